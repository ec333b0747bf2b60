"""Between rows and core values, and between core errors and sentences for people."""
