"""The saved model: a tree of frozen values, edits as pure functions, the file, migration and the journal."""
