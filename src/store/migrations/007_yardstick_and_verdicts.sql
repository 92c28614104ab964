-- The yardstick has a new form and another full speed: what was measured with the earlier one says so, and no
-- machine's earlier reading serves any longer.
UPDATE measurement SET yardstick = yardstick || '{"version":1}' WHERE yardstick IS NOT NULL AND NOT yardstick ? 'version';
UPDATE trial SET data = jsonb_set(data, '{yardstick,version}', '1') WHERE data ? 'yardstick' AND NOT data -> 'yardstick' ? 'version';
DELETE FROM yardstick;

-- The main thread's blocking over the whole load: runs hold their long tasks, trials do not.
UPDATE run SET data = jsonb_set(data, '{metrics,wholeLoadBlockingMs}', COALESCE((SELECT to_jsonb(sum(greatest(0, (task ->> 'endMs')::double precision - (task ->> 'startMs')::double precision - 50)))
    FROM jsonb_array_elements(data -> 'longTasks') task), '0'));
UPDATE measurement SET spreads = spreads || COALESCE((SELECT jsonb_build_object('wholeLoadBlockingMs', jsonb_build_object(
      'median', percentile_cont(0.5) WITHIN GROUP (ORDER BY (run.data -> 'metrics' ->> 'wholeLoadBlockingMs')::double precision),
      'min', min((run.data -> 'metrics' ->> 'wholeLoadBlockingMs')::double precision),
      'max', max((run.data -> 'metrics' ->> 'wholeLoadBlockingMs')::double precision),
      'runs', jsonb_agg(run.data -> 'metrics' -> 'wholeLoadBlockingMs' ORDER BY run.position)))
    FROM run WHERE run.measurement_id = measurement.id), '{"wholeLoadBlockingMs":{"median":null,"min":null,"max":null,"runs":[]}}');

-- A trial knows what it was of: its conditions as they were, its fold CSS by its hash, and whose plan it was. Trials
-- of before do not tell, and are out of date.
ALTER TABLE trial ADD COLUMN conditions jsonb;
ALTER TABLE trial ADD COLUMN fold_hash text;
ALTER TABLE trial ADD COLUMN own_plan boolean;
ALTER TABLE fold ADD COLUMN hash text;

-- Verdicts are of the headline, say what got worse, and what broke.
UPDATE trial SET data = data
  || jsonb_build_object('shownPair', NULL)
  || jsonb_build_object('checks', data -> 'checks' || '{"failedRequests":[],"missingRequests":[]}')
  || jsonb_build_object('arms', (SELECT jsonb_agg(arm
      || jsonb_build_object('metrics', (SELECT jsonb_agg(metrics || '{"wholeLoadBlockingMs":null}') FROM jsonb_array_elements(arm -> 'metrics') metrics))
      || jsonb_build_object('spreads', arm -> 'spreads' || '{"wholeLoadBlockingMs":{"median":null,"min":null,"max":null,"runs":[]}}'))
      FROM jsonb_array_elements(data -> 'arms') arm))
  || jsonb_build_object('result', data -> 'result' || jsonb_build_object(
      'headline', 'firstPaintMs', 'emptyPaint', '[]'::jsonb, 'paint', data -> 'result' -> 'firstPaint', 'worse', '[]'::jsonb, 'breaks', '[]'::jsonb, 'notes', '[]'::jsonb,
      'withheld', jsonb_build_object('paint', data -> 'result' -> 'withheld' -> 'firstPaint', 'speedIndex', data -> 'result' -> 'withheld' -> 'speedIndex'),
      'verdict', CASE WHEN data -> 'result' -> 'withheld' ->> 'firstPaint' IS NOT NULL THEN 'withheld' ELSE data -> 'result' -> 'firstPaint' ->> 'verdict' END));

-- Steps before a capture have words of our own.
UPDATE page_setting SET steps = regexp_replace(regexp_replace(regexp_replace(steps, '^([ \t]*)click(\s)', '\1press\2', 'gin'), '^([ \t]*)wait for(\s)', '\1until\2', 'gin'), '^([ \t]*)wait(\s+\d)', '\1pause\2', 'gin');

-- Proofs say where a page is not the same twice.
UPDATE fold SET data = jsonb_set(data, '{viewports}', COALESCE((SELECT jsonb_agg(one || '{"unsteady":null,"undecided":false}') FROM jsonb_array_elements(data -> 'viewports') one), '[]'));
