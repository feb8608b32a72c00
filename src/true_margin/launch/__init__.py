"""Starting and stopping: the private database cluster, the app, the demo."""
