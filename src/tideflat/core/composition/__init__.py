"""What the eye reads in an arrangement: who belongs to whom, outlines and weights as seen, measures, schemes. Judges nothing."""
