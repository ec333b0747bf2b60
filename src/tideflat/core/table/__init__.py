"""Rules of the table itself: what carries what, where a thing comes to rest, where there is room, how a prop is put in.

Here belongs what holds of any arrangement, whoever changes or judges it. What changes a scene is in `acts`, what judges one in `findings`.
"""
