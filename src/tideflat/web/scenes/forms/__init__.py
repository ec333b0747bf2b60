"""What people post, as acts of the core: a module a noun, one function a verb. A form reads and asks; it changes nothing."""
