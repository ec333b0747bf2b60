"""Camera and lens: pose, close-range optics, what the frame sees, what hides what, crops and guides."""
