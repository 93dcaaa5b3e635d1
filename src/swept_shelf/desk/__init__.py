"""The Qt interface: one widget per file, models between documents and widgets. Widgets emit, the session decides."""
