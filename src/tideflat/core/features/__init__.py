"""Named places on a thing: where they are, how a set-up shows them, and which place a stroke over the picture means."""
