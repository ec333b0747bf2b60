"""Scenes: the shelf and the bench, their documents with history, forms that make acts of what is posted, stations with their trays."""
