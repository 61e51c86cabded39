-- How every device stands today, for whoever asks: the register, the search, the round, the fleet. What must not be used
-- has to be acted on; what is overdue is not known any more. A state that is not of the last record yet is not used.
CREATE VIEW standing_now AS
  SELECT a.id AS asset,
    CASE WHEN a.do_not_use IS NOT NULL THEN 'act' WHEN l.standing IS NULL THEN 'unknown'
      WHEN coalesce(x.standing, l.standing) = 'act' THEN 'act' WHEN a.id IN (SELECT j.asset FROM job j
        WHERE j.status IN ('open', 'running', 'partly done') AND j.closes < current_date) THEN 'unknown'
      ELSE coalesce(x.standing, l.standing) END AS standing,
    l.standing AS by_record, l.run, l.at, x.why, x.margin, x.drift, x.worst_series, x.worst_lane, x.series, x.lane
  FROM asset a LEFT JOIN last_record l ON l.asset = a.id LEFT JOIN asset_state x ON x.asset = a.id AND x.run = l.run;
