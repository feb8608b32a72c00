"""The watcher: times a real export on the reviewer's machine by watching its file."""
