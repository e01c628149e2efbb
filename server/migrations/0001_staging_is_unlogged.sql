-- Rows that wait to be applied need no write-ahead log: a crash empties the table, and the batch
-- says that the file has to be uploaded again.
ALTER TABLE "staged_line" SET UNLOGGED;
