"""Names of queues and jobs."""

QUEUE = "takes"
HOUSE = "house"  # short jobs that keep the rest going
READING = "reading"  # what is read and measured for somebody who looks; runs go first

MAKE_TAKES = "make_takes"
RESCUE = "rescue"
TIDY = "tidy"
READ = "read"
MEASURE = "measure"
MEASURE_CHARACTER = "measure character"
MAKE_MAP = "make map"
COPY_MEND = "copy mend"
DRAW_CANVAS = "draw canvas"
FULL_SIZE = "full size"
CATCH_UP = "catch up"
PERIODIC = (RESCUE, TIDY, CATCH_UP)
