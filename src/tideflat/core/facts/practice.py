"""Limits of the trade that findings judge by. None has a published source: common practice, no source."""

from __future__ import annotations

from .optics import Fact

_PRACTICE = "common practice, no source"

#: Two large things with less clear table between them than this look pushed together.
GAP_TIGHT = Fact(8, "mm", _PRACTICE)
GAP_TIGHT_AIRY = Fact(15, "mm", _PRACTICE + "; when spacing leans to airy")
#: Two outlines, or an outline and an edge, nearer in a delivered crop than this read as just touching: half a millimetre of a picture as
#: large as a telephone.
TANGENT = Fact(0.5, "% of the crop's long side", _PRACTICE)
#: A thing of which less than this is seen at an edge peeks in like a mistake.
SLIVER = Fact(15, "% of the thing's outline", _PRACTICE)
#: A hero that loses this much of its outline at an edge is cut; less is a near touch.
HERO_CUT = Fact(1, "% of the outline", _PRACTICE)
#: A straight edge this far off square to the frame, and not further, looks like a mistake in a catalogue.
CROOKED, CROOKED_MOST = Fact(0.3, "degrees", _PRACTICE), Fact(6, "degrees", _PRACTICE)
#: Off the middle, or margins that differ, by more than this show in a catalogue; among other things a hero further off stands so on
#: purpose.
UNEVEN, UNEVEN_MOST = Fact(0.5, "% of the crop's short side", _PRACTICE), Fact(6, "% of the crop's short side", _PRACTICE)
#: What must be seen is seen when so much of it is, it is turned from the lens by no more than this, and is so many delivered pixels high.
FEATURE_SEEN = Fact(85, "%", _PRACTICE)
FEATURE_TURNED = Fact(60, "degrees", _PRACTICE + "; foreshortened to half")
FEATURE_PIXELS = Fact(32, "px", _PRACTICE)
#: Neighbouring frames of a stack share this part of what one holds sharp.
STACK_OVERLAP = Fact(0.25, "of a slice", _PRACTICE)
#: A hero smaller than this in the frame is not the subject of the picture.
HERO_SHARE = Fact(2.5, "% of the crop", _PRACTICE)
#: Room for clamp and arm above the camera body.
CEILING_CLEARANCE = Fact(60, "mm", _PRACTICE)
#: A crop whose pixels are enlarged past this for what is asked of it looks soft in print and on large screens.
ENLARGED = Fact(100, "%", _PRACTICE)
#: From straight above a camera that is this far off plumb, and not further, is meant to be plumb: opposite edges of the set differ by more
#: than a hundredth for each degree, and lines converge.
PLUMB, PLUMB_MOST = Fact(0.5, "degrees", _PRACTICE), Fact(5, "degrees", _PRACTICE)
#: A horizon this far off level, and not further, looks like a mistake; further it is meant.
LEVEL, LEVEL_MOST = Fact(0.4, "degrees", _PRACTICE), Fact(6, "degrees", _PRACTICE)
#: What stands upright leans by more than this in the frame, where the camera looks down by no more than the other: it should be upright.
CONVERGING, LOOKS_STRAIGHT = Fact(2.5, "degrees", _PRACTICE), Fact(12, "degrees", _PRACTICE)
#: From so steep, what is tall comes near the lens, and its rim out of what is sharp.
FROM_ABOVE = Fact(75, "degrees", _PRACTICE)
#: Looking down by this much, the table is what is seen, and nothing stands before a background.
LOOKS_DOWN = Fact(60, "degrees", _PRACTICE)
#: The front of the set shown so many times as large as its back.
STRETCHED = Fact(1.6, "times", _PRACTICE)
#: A line through the hero, further from its top and foot than this.
HORIZON = Fact(15, "% of the hero's height in the frame", _PRACTICE)
#: What moves may smear over so many delivered pixels before it looks soft.
SMEAR = Fact(2, "px", _PRACTICE)
#: A hand that holds the camera turns it so fast: 1 / focal length, in seconds, then blurs by 0.03 mm.
HAND_TURNS = Fact(0.03, "radians a second", _PRACTICE + "; from the usual rule of 1 / focal length on 36 x 24 mm")
#: Past this part of the circle of confusion diffraction is what softens the picture.
DIFFRACTED = Fact(80, "% of the circle of confusion", _PRACTICE)
#: Words stay legible when no more than this of their area is occupied.
COPY_OCCUPIED = Fact(2, "% of the copy space", _PRACTICE)

#: A hero is hidden where other things stand before more of it than this; more is allowed where spacing leans to gathered.
HERO_HIDDEN = Fact(5, "% of the outline", _PRACTICE)
HERO_HIDDEN_GATHERED = Fact(12, "% of the outline", _PRACTICE + "; when spacing leans to gathered")
#: Clear air that a hero wants round it, and from where on a thing is an island; the search keeps them, the judgement is milder.
HERO_CLEAR, HERO_CLEAR_LEAST = Fact(2.5, "% of the frame's height", _PRACTICE), Fact(1.2, "% of the frame's height", _PRACTICE)
ISLAND, ISLAND_PLAIN = Fact(12, "% of the frame's height", _PRACTICE), Fact(20, "% of the frame's height", _PRACTICE)
#: Gaps whose deviation over their mean is less than this are all alike.
ALIKE_GAPS = Fact(0.12, "deviation of gaps over their mean", _PRACTICE)
#: Visual weight so far from the middle of where there is to compose tips the picture; lightness that differs so much from side to side.
BALANCE_OFF = Fact(20, "% of the frame's height", _PRACTICE)
LIGHT_ONE_SIDED = Fact(35, "L*", _PRACTICE)
#: Rank correlation of size with distance from the hero, from which on sizes grow away from it instead of falling.
SIZES_GROW = Fact(0.6, "rank correlation", _PRACTICE)
#: Past this many things that shape the picture a plated flat lay is crowded.
CROWDED = Fact(10, "things", _PRACTICE)
CROWDED_SPARSE = Fact(7, "things", _PRACTICE + "; when fullness leans to sparse")
CROWDED_ABUNDANT = Fact(16, "things", _PRACTICE + "; when fullness leans to abundant")
#: Two echoes of the accent nearer than this are one spot of it.
ECHO_CLOSE = Fact(15, "% of the frame's height", _PRACTICE)
#: A thing further than this from the scheme that was chosen does not follow it; and how many times its even share of the line an empty
#: stretch is.
SCHEME_OFF = Fact(15, "% of the frame's height", _PRACTICE)
SCHEME_GAP = Fact(3.2, "times an even share", _PRACTICE)
#: Two long things that differ by less than this run parallel.
LINES_PARALLEL = Fact(8, "degrees", _PRACTICE)
#: A taller thing before a lower one may hide so much of it; more where spacing leans to gathered.
LOWER_HIDDEN = Fact(45, "% of the outline", _PRACTICE)
LOWER_HIDDEN_GATHERED = Fact(65, "% of the outline", _PRACTICE + "; when spacing leans to gathered")
#: Things whose depths differ by less than this stand in one plane.
ONE_PLANE = Fact(4, "% of the distance to the aim", _PRACTICE)

#: About 60 / 30 / 10 by visible area: common practice, no source; a matter of taste.
PALETTE_SHARES: dict[str, float] = {"base": 0.6, "second": 0.3, "accent": 0.1}
#: A thing that differs less than this from what lies behind it melts into it; less still is allowed where the mood is dark.
MERGE = Fact(10, "CIEDE2000", _PRACTICE)
MERGE_DEEP = Fact(6, "CIEDE2000", _PRACTICE + "; when shadow leans to deep")
#: The eye goes to the lightest and to the most colourful first: by how much a thing may pass the hero.
LIGHTER_THAN_HERO = Fact(8, "L*", _PRACTICE)
LOUDER_THAN_HERO = Fact(0.03, "OKLCH chroma", _PRACTICE)
#: Smaller than this in the frame, nothing steals the eye.
STEALS_FROM = Fact(0.6, "% of the frame", _PRACTICE)
#: A thing so far from every other in lightness stands alone: a hole, or a lamp.
ALONE_IN_LIGHTNESS = Fact(24, "L*", _PRACTICE)
#: Further than this from every colour of the palette a thing is off it.
OFF_PALETTE = Fact(18, "CIEDE2000", _PRACTICE)
#: Colours of several reference pictures nearer than this are one colour.
ONE_COLOUR = Fact(11, "CIEDE2000", _PRACTICE)
#: Families of colour in one picture.
COLOURS = Fact(5, "colours", _PRACTICE)
COLOURS_MUTED = Fact(4, "colours", _PRACTICE + "; when the palette leans to muted")
COLOURS_POPS = Fact(7, "colours", _PRACTICE + "; when the palette leans to pops")
#: An accent seen on less than this part of the share wanted is missing.
ACCENT_MET = Fact(30, "% of the share wanted", _PRACTICE)
#: So many shaping things all alike are a dull set.
SAMENESS = Fact(4, "things", _PRACTICE)
#: The same kind of piece in two sizes this far apart, and not further, looks like a mistake.
TWO_SIZES = Fact(1.12, "times", _PRACTICE)
TWO_SIZES_PLAIN = Fact(1.9, "times", _PRACTICE)
#: Light from so near to where the lens stands shows no texture; degrees between the ways to light and lens, seen from the hero.
FLAT_LIGHT = Fact(30, "degrees", _PRACTICE)
#: Two lights that differ by so much in reciprocal temperature make food look wrong; a light that gives less than the share is not seen.
MIXED_LIGHT = Fact(60, "mired", _PRACTICE)
MIXED_SHARE = Fact(0.12, "share of the light at the hero", _PRACTICE)
#: Brightest against darkest place of the set.
FALLOFF = Fact(1, "stops", _PRACTICE)
#: A light that looks narrower than this from the hero throws shadows with edges.
HARSH_LIGHT = Fact(8, "degrees", _PRACTICE)
#: Light from further round the hero than this from where the lens stands comes from behind, degrees on the table; then the side turned to
#: the lens stands so far under the key unless it is filled, stops.
FROM_BEHIND = Fact(115, "degrees", _PRACTICE)
UNFILLED = Fact(3.5, "stops", _PRACTICE)
#: Something comes out so much brighter than the hero, or the backdrop gets so much more light, stops; a thing that is only lighter in
#: colour, in no more light than this over the hero's, is judged by its colour.
BRIGHTER_THAN_HERO = Fact(1.5, "stops", _PRACTICE)
MORE_LIGHT = Fact(0.35, "stops", _PRACTICE)
#: So much of the light on a level face is given back by the ceiling: no direction is left.
CEILING_LIGHT = Fact(40, "%", _PRACTICE)
#: A light so near beside the frame, degrees, shines into the lens past its hood.
INTO_LENS = Fact(12, "degrees", _PRACTICE)
#: Shadows cross a line of the arrangement from here on, degrees.
ACROSS_SCHEME = Fact(60, "degrees", _PRACTICE)
#: Minutes of direct sun that a picture takes at least.
SUN_MINUTES = Fact(30, "minutes", _PRACTICE)
#: So much of the key is hidden from the hero by another thing.
SHADED_HERO = Fact(50, "%", _PRACTICE)
