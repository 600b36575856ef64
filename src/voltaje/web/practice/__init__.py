"""Practice: problems of any kind of sheet, worked by oneself and marked line by line. Nothing of
it is kept: the address holds the problem."""
