"""Reading lists that people kept in spreadsheets: which column is what, and what a cell means."""
