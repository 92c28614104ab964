-- A footnote may be about a line of the bill, told by its words: numbers of lines change with each measurement.

ALTER TABLE footnote ADD COLUMN line text;
