"""Facts of light on a table: what strengths stand for, and how much things give back."""

from __future__ import annotations

from .optics import Fact

#: What a strength of 0 stands for.
LUX_AT_A_METRE = Fact(1000.0, "lux", "scene document: a whole face, on a face square to its axis 1 m before its middle")
LUX_OF_SUN = Fact(80_000.0, "lux", "scene document: on a face square to it")
LUX_OF_ROOM = Fact(100.0, "lux", "scene document: on a level face")
#: With a flash, a strength of 0 gives so many lux seconds where it gives 1 000 lux otherwise.
FLASH_LUX_SECONDS = Fact(10.0, "lux s", "scene document")
SUN_DISC = Fact(0.533, "degrees", "scene document; the sun's mean apparent diameter")
#: What cards give back of the light that falls on them.
CARD_REFLECTANCE: dict[str, float] = {"white": 0.85, "silver": 0.8, "gold": 0.7, "tint": 0.7, "black": 0.04}  # scene document
#: Gold leaf is warm: linear red, green and blue whose luminance is that of CARD_REFLECTANCE, from memory.
GOLD_RGB: tuple[float, float, float] = (0.845, 0.69, 0.42)
FLOOR_REFLECTANCE = Fact(0.2, "1", "scene document")
#: A ceiling whose walls are not known is so wide and deep, about the middle of the table.
CEILING_SIDE = Fact(4000.0, "mm", "scene document")
#: Stands, arms and people give back so much; a flag is a black card. Common practice, no source.
RIG_REFLECTANCE = Fact(0.2, "1", "common practice, no source")
#: What passes a thing of clear glass, both walls: about 4 % is lost at each of its faces (Fresnel at n = 1.5).
GLASS_PASSES = Fact(0.85, "1", "four faces of 0.96 each (Fresnel, n = 1.5)")
