"""The window: menus, files, the view at the easel."""
