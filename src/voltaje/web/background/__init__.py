"""Work that takes longer than a page may: done by a worker, a process of its own, on a queue that
stands in the database.

``work`` says what there is to do (each room of the program brings its own in a module
``long_work``), ``asking`` is what a page asks, ``running`` does it, ``queue`` is the queue with its
worker, ``views`` tell how far it has come and stop it.
"""
