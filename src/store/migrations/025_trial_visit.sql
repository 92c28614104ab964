-- Which visit a trial timed: a plan is proved by first visits, and return visits may be asked for besides.
ALTER TABLE trial ADD COLUMN visit text NOT NULL DEFAULT 'first' CHECK (visit IN ('first', 'return'));
