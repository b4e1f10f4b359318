-- What stands on the box is what the day says, too: beside the EU size the size as it is printed.
DO $the_box$
DECLARE
    was text := pg_get_functiondef('day_items(uuid, date, date)'::regprocedure);
    says text;
BEGIN
    says := replace(was, $$'size', s.pair -> 'eu_label'$$,
                    $$'size', s.pair -> 'eu_label', 'system', s.pair -> 'system', 'label', s.pair -> 'label'$$);
    says := replace(says, $$'size', v.eu_label$$, $$'size', v.eu_label, 'system', v.system, 'label', v.label$$);
    says := replace(says, $$'size', p.eu_label$$, $$'size', p.eu_label, 'box', p.size$$);
    IF (length(says) - length(was)) < 200 THEN
        RAISE EXCEPTION 'day_items is not what it was';
    END IF;
    EXECUTE says;
END
$the_box$;
