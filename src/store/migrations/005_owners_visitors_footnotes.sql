-- Owners of third-party domains by the user's names; real visitors' percentiles beside the lab's figures;
-- numbers of footnotes that are given once.

CREATE TABLE owner_name (
  domain text PRIMARY KEY,
  name text NOT NULL
);

CREATE TABLE field_figure (
  url text NOT NULL,
  metric text NOT NULL,
  percentile double precision NOT NULL CHECK (percentile > 0 AND percentile < 100),
  value double precision NOT NULL,
  device text NOT NULL,
  period text NOT NULL,
  visits integer,
  imported_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (url, device, metric, percentile)
);

ALTER TABLE page ADD COLUMN last_footnote integer NOT NULL DEFAULT 0;
UPDATE page SET last_footnote = COALESCE((SELECT max(number) FROM footnote WHERE page_id = page.id), 0);
