-- Arms are known by an id; what they are called on screens is no matter of the store.
UPDATE trial SET data = data
  || jsonb_build_object('arms', (SELECT jsonb_agg((arm - 'name') || jsonb_build_object('id', CASE arm ->> 'name' WHEN 'as is' THEN 'as-is' ELSE arm ->> 'name' END))
       FROM jsonb_array_elements(data -> 'arms') arm))
  || jsonb_build_object('order', COALESCE((SELECT jsonb_agg(CASE one WHEN 'as-is-first' THEN '["as-is","treated"]'::jsonb ELSE '["treated","as-is"]'::jsonb END)
       FROM jsonb_array_elements_text(data -> 'order') one), '[]'))
  || jsonb_build_object('result', data -> 'result' || jsonb_build_object('emptyPaint',
       COALESCE((SELECT jsonb_agg(CASE one WHEN 'as is' THEN 'as-is' ELSE one END) FROM jsonb_array_elements_text(data -> 'result' -> 'emptyPaint') one), '[]')));
UPDATE picture SET name = 'as-is' || substr(name, 6) WHERE trial_id IS NOT NULL AND name LIKE 'as is %';
