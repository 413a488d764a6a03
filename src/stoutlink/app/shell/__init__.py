"""The window itself: menus, files, printing."""
