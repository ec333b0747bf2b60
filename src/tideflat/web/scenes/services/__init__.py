"""What changes a scene: each act is one transaction and one step that can be undone."""
