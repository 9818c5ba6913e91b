"""The check of files on disk: the lists of files of both hosts held against each other."""
