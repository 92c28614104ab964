-- A certificate that was met may be accepted for several hosts that showed it.
UPDATE job SET certificate = (certificate - 'host') || jsonb_build_object('hosts', jsonb_build_array(certificate -> 'host'))
WHERE certificate ? 'host';
