-- What a script was found to do: reading it takes seconds, and its bytes never change.
CREATE TABLE script_facts (
  body_hash text NOT NULL REFERENCES body ON DELETE CASCADE,
  -- 'script' or 'module'.
  kind text NOT NULL,
  -- Of its text: the same bytes are another text in another encoding.
  text_hash text NOT NULL,
  -- Of the program that read it: another one may find more.
  program text NOT NULL,
  data bytea NOT NULL,
  PRIMARY KEY (body_hash, kind, text_hash)
);
