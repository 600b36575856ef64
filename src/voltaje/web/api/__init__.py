"""The program's own address for programs: sheets as JSON."""
