"""Papers that come from elsewhere: read, shown, and put in their places."""
