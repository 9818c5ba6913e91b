"""Lists of the files on a host, as its own programs write them, and two of them facing each other."""
