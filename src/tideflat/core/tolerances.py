"""Every tolerance of the core, named and explained in one place."""

#: Two heights or places closer than this (mm) are the same for standing and touching: a sheet of paper is 0.1 mm.
CONTACT_MM = 0.5

#: Places that differ by no more than this (mm; degrees for turns) are one place: half of the tenth that places are proposed to.
STANDS_ALIKE_MM = 0.05

#: A thing may be this far (mm) from what it stands on before it counts as floating: soft cloth and felt feet give as much.
SUPPORT_MM = 2.0

#: An outline whose hull has no more area over it than this share is convex for all that is asked of it.
LESS_NOTCHED = 0.002

#: An outline is smoothed by so much (mm) before it is cut into convex parts: half of what counts as touching.
OUTLINE_MM = 0.25

#: A thing's weight may be this far (mm) outside what bears it before it is said to fall: an even solid is a guess of where its middle is.
TIP_MM = 1.0

#: Drawn regions are cut from each other on a grid of so much (mm): far below what is seen, and no cut fails on it.
CUT_GRID_MM = 1e-3

#: Depth (mm in front of the lens) from which on a point counts as in front of it.
NEAR_DEPTH_MM = 1.0

#: Two faces that a ray meets this near each other (mm of depth) are met at once: rounding must not decide which is in front.
SAME_DEPTH_MM = 1e-6

#: Rays less steep than this against a plane (cosine) are taken as parallel to it.
PARALLEL = 1e-9

#: Share of a thing's silhouette that may lie outside a window before it counts as cut: below what a pixel row shows.
CUT_SHARE = 1e-3

#: Slack (fraction of the frame) by which a crop may pass the frame's edge through rounding of its centre.
CROP_SLACK = 1e-6

#: Slack (mm) in comparisons of optical reach, so that a camera set to its closest focus is not told to step back.
REACH_MM = 1e-6

#: Chords by which a full circle is drawn when its area counts; the area is then 0.07 % too small, evenly.
CIRCLE_CHORDS = 96

#: A hero may reach this far (mm) past what is sharp: less than its size is known to.
SHARP_MM = 0.05

#: Digits after the point (mm, degrees) that are kept of what follows a carrier: a tenth of a micron, so that nothing drifts by hand after
#: hand.
STIFF_DIGITS = 4

#: Two places or angles nearer than this (mm, degrees) differ by that rounding alone, there and back.
STIFF_MM_DEG = 4e-4

#: A thing's upright axis this near upright (sine of the angle, or 1 less its cosine) is upright.
UPRIGHT = 1e-12

#: The way back through a lens's distortion is found to this (focal lengths): a thousandth of a pixel's thousandth.
BENT_BACK = 1e-11

#: The setting of a lens that focuses inside is found to this (magnifications): 1e-12 of a metre of distance.
SETTING = 1e-13

#: Two pure numbers nearer than this, or one nearer to nought, are the same but for rounding.
SAME_NUMBER = 1e-12

#: A straight edge that the lens bends is drawn in steps of this share of the frame: off by a hundredth of a pixel at the most.
BENT_STEP = 0.01

#: A corner of the frame that no place is bent to (focal lengths): the distortion folds the picture.
FOLDED = 1e-6

#: Two results of the same computing nearer than this differ by rounding alone: a share of a ray, a place along an edge, half a pixel's tie.
ROUNDING = 1e-9

#: A colour seen on less than this share of the picture is not seen.
SEEN_SHARE = 1e-6

#: Less of a thing than this (share of the frame) has no rim to judge; less than the other does not lie behind words.
SEEN_AREA, BEHIND_AREA = 1e-5, 1e-6

#: A colour less vivid than this (OKLCH chroma) has no hue.
GREY_CHROMA = 1e-6

#: A picture whose mean chroma is less than this has no warmth of its own.
LEAST_VIVID = 1e-3

#: Light that is divided by, or whose logarithm is taken, is at least this: the noise of a photograph's darkest pixels, and of a smooth
#: field.
LEAST_LIGHT, LEAST_FIELD = 1e-3, 1e-4

#: An edge that bends less than this over three samples (levels) has its steepest place in the middle.
FLAT_BOW = 1e-6

#: Half the width over which a slope is taken from two values (focal lengths).
DIFFERENCE = 1e-6

#: A way in the frame is tried so far, heights of the frame, to learn what it is on the table; what lies nearer is one place.
WAY_TRIED = 1e-3

#: Outlines whose gaps and areas are a matter of taste are told to this (heights of the frame).
PLAIN = 5e-4

#: A group is framed as asked, as shares of the frame.
FITTED = 1e-7

#: A stop that misses by less than this is the stop: they are engraved rounded.
STOP_SLACK = 1.001

#: What is kept of an outline when a variant takes its place: well within a tenth of a millimetre.
REGISTERED_MM = 0.02

#: Solids are met by rays this much (mm) inside their faces, and rays begin this much before theirs: nothing stands in its own light, and
#: what touches still shades.
SHRUNK_MM, LIFTED_MM = 0.3, 0.6

#: Light weaker than this (lux) is none: a moonless night has as much.
NO_LIGHT_LUX = 1e-3

#: Planes of a solid whose normals agree to so many digits are one.
PLANE_DIGITS = 6
