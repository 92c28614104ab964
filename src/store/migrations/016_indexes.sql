-- What is looked up by what it belongs to, and goes with that: without these, each deletion reads whole tables.
CREATE INDEX capture_body_hash ON capture_body (hash);
CREATE INDEX measurement_capture ON measurement (capture_id);
CREATE INDEX run_measurement ON run (measurement_id, position);
CREATE INDEX frame_run ON frame (run_id, at_ms);
CREATE INDEX fold_page ON fold (page_id, id);
CREATE INDEX fold_capture ON fold (capture_id);
CREATE INDEX trial_capture ON trial (capture_id);
CREATE INDEX rule_gains_capture ON rule_gains (capture_id);
CREATE INDEX navigation_capture ON navigation (capture_id);
CREATE INDEX navigation_to_capture ON navigation (to_capture_id);
