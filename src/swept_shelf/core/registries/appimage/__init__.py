"""AppImage files: recognised by content, the launcher inside read without running anything."""
