"""Between which bounds the numbers of a scene document lie. Whoever reads, mends or derives a schema asks here."""

#: Every length of a thing lies between these: a hair, and a hall.
LEAST_SIZE_MM, MOST_SIZE_MM = 0.1, 20_000.0
#: Places on either side of the table's corner, and distances from the lens.
MOST_PLACE_MM = 100_000.0
#: No share or size on the sensor is less than this: under a hundredth of a pixel nothing is drawn or judged.
LEAST_PART = 1e-4
#: The shortest time of an exposure, s.
LEAST_TIME_S = 1e-6
