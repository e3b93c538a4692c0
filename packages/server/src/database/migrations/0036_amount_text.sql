CREATE FUNCTION amount_text(minor bigint, digits integer, mark text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE STRICT AS $$
  SELECT CASE WHEN minor = 0 THEN '–' ELSE CASE WHEN minor < 0 THEN '-' ELSE '' END
    || left(t, length(t) - digits) || CASE WHEN digits = 0 THEN '' ELSE mark || right(t, digits) END END
  FROM (SELECT lpad(abs(minor)::text, greatest(length(abs(minor)::text), digits + 1), '0') AS t) AS padded
$$;
