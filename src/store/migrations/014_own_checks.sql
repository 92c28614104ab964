-- What the developer wrote down that a page does, one check a line: of one page, and of all pages of a family.
CREATE TABLE own_check (
  page_id integer PRIMARY KEY REFERENCES page ON DELETE CASCADE,
  text text NOT NULL
);
CREATE TABLE family_check (
  site_id integer NOT NULL REFERENCES site ON DELETE CASCADE,
  family text NOT NULL,
  text text NOT NULL,
  PRIMARY KEY (site_id, family)
);
