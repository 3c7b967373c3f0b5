"""Starting Good Quill: private database, stand-ins, web server."""
