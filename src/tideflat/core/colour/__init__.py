"""Colour: spaces, differences, contrast, harmony, words. sRGB hex outside, linear light inside. It knows no props and no pictures of a scene."""
