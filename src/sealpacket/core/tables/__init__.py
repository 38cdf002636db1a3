"""Tables as spreadsheets really hold them: reading, matching columns, understanding cells, and writing."""

from sealpacket.core.tables.cells import CellFault, DateOrder, Field, date_order_of, understand
from sealpacket.core.tables.headings import guess_mapping
from sealpacket.core.tables.reading import Table, TableFault, guarded, open_table, unguarded
from sealpacket.core.tables.writing import Format, write_everything, write_table

__all__ = [
    "CellFault", "DateOrder", "Field", "Format", "Table", "TableFault", "date_order_of", "guarded", "guess_mapping",
    "open_table", "understand", "unguarded", "write_everything", "write_table",
]  # fmt: skip
