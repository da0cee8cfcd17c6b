"""Tables that go out as data: as one workbook (XLSX), or as CSV files in an archive."""
