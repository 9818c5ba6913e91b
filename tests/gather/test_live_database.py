"""What a live database says of its columns."""

import unittest

from palinode.gather.databases.mariadb import is_computed


class ColumnsTest(unittest.TestCase):
    def test_a_computed_default_is_no_computed_column(self):
        for extra in (b"VIRTUAL GENERATED", b"STORED GENERATED", b"PERSISTENT"):
            self.assertTrue(is_computed(extra), extra)
        for extra in (b"", b"auto_increment", b"DEFAULT_GENERATED", b"DEFAULT_GENERATED on update CURRENT_TIMESTAMP"):
            self.assertFalse(is_computed(extra), extra)
