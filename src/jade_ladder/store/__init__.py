"""SQLite: the connection, the migrations, and one module of plain SQL per subject. No rules."""
