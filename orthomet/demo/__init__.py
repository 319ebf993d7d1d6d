"""The demo: The Night Ferry at Quillmere, an invented cast, painted by our own code."""
