"""The check of database tables: which of them are short, absent, damaged or made otherwise at the destination."""
