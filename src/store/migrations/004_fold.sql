-- Fold CSS: what the page said for a set, what the user decided, and sets of whole families.

ALTER TABLE fold ADD COLUMN answers jsonb;
ALTER TABLE fold ADD COLUMN accepted boolean NOT NULL DEFAULT false;

-- Sets made before lack what newer ones say; they stay, and say nothing of it.
UPDATE fold SET data = data || jsonb_build_object(
  'headCompressedBytes', 0, 'budgetBytes', 14336, 'giveUps', '[]'::jsonb, 'overridden', 0, 'late', NULL,
  'decisions', '[]'::jsonb, 'fingerprint', NULL, 'shared', false, 'timings', NULL,
  'viewports', COALESCE((SELECT jsonb_agg(one || '{"between":false,"largestRegionPixels":0,"otherElements":0,"maskedShare":0,"differences":[],"elements":[]}'::jsonb
      || jsonb_build_object('holds', data -> 'proved')) FROM jsonb_array_elements(data -> 'viewports') one), '[]'::jsonb),
  'sheets', COALESCE((SELECT jsonb_agg(sheet || jsonb_build_object('whole', false, 'kept', COALESCE(
      (SELECT jsonb_agg(rule || '{"context":"","reason":"matches","neededBy":[],"bytes":0,"embedded":false}'::jsonb)
       FROM jsonb_array_elements(sheet -> 'kept') rule), '[]'::jsonb))) FROM jsonb_array_elements(data -> 'sheets') sheet), '[]'::jsonb));

CREATE TABLE fold_settings (
  page_id integer PRIMARY KEY REFERENCES page (id) ON DELETE CASCADE,
  data jsonb NOT NULL,
  updated_at timestamptz NOT NULL DEFAULT now()
);

-- For a family: one set for all its pages, or each its own.
CREATE TABLE family_fold (
  site_id integer NOT NULL REFERENCES site (id) ON DELETE CASCADE,
  family text NOT NULL,
  choice text CHECK (choice IN ('one set', 'each its own')),
  figures jsonb,
  updated_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (site_id, family)
);

ALTER TABLE job DROP CONSTRAINT job_kind_check;
ALTER TABLE job ADD CONSTRAINT job_kind_check CHECK (kind IN ('measure', 'fold', 'family-fold', 'trial', 'import', 'discover'));
