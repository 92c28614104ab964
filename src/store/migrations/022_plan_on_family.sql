-- What the plan of a page came to on the other pages of its family.
CREATE TABLE plan_on_family (
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  conditions_id text NOT NULL,
  plan jsonb NOT NULL,
  data jsonb NOT NULL,
  PRIMARY KEY (page_id, conditions_id)
);
