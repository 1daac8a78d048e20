"""The rules of the job: documents in, parts out. No web, no files, no drawing surface, no clock."""
