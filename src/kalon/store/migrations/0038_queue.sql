-- Who waits: people who came in and appointments, taken by one fitter each, with how long each took.

CREATE TABLE queue_place (
    id uuid PRIMARY KEY,
    shop_id uuid NOT NULL,
    athlete_id uuid,
    first_of uuid,
    called text NOT NULL DEFAULT '' CHECK (length(called) <= 80),
    about text NOT NULL CHECK (about IN ('fitting', 'return', 'growth', 'pick_up')),
    sport text CHECK (length(sport) <= 40),
    at timestamptz,
    minutes smallint CHECK (minutes BETWEEN 5 AND 480),
    came_at timestamptz,
    made_by uuid NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    taken_by uuid,
    taken_at timestamptz,
    fitting_id uuid,
    done_at timestamptz,
    left_at timestamptz,
    CHECK (at IS NOT NULL OR came_at IS NOT NULL),
    CHECK (athlete_id IS NULL OR called = ''),
    CHECK ((taken_by IS NULL) = (taken_at IS NULL)),
    FOREIGN KEY (shop_id, made_by) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, taken_by) REFERENCES staff (shop_id, id),
    FOREIGN KEY (shop_id, athlete_id) REFERENCES athlete (shop_id, id),
    FOREIGN KEY (shop_id, fitting_id) REFERENCES fitting (shop_id, id)
);
COMMENT ON COLUMN queue_place.at IS 'The time of an appointment; none for who came in.';
COMMENT ON COLUMN queue_place.minutes IS 'How long is kept for it, where somebody said.';
COMMENT ON COLUMN queue_place.first_of IS 'Whose record it was before two were put together.';
COMMENT ON COLUMN queue_place.called IS 'How somebody of whom there is no record yet is known here, until they are taken.';
CREATE INDEX queue_waiting ON queue_place (shop_id, (coalesce(at, came_at))) WHERE done_at IS NULL AND left_at IS NULL;
CREATE INDEX queue_done ON queue_place (shop_id, taken_at DESC) WHERE taken_at IS NOT NULL;
CREATE INDEX queue_of_athlete ON queue_place (athlete_id) WHERE athlete_id IS NOT NULL;
CREATE INDEX queue_of_fitting ON queue_place (fitting_id) WHERE fitting_id IS NOT NULL;
ALTER TABLE queue_place ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_shop ON queue_place TO kalon_app USING (shop_id = (SELECT shop_now()))
    WITH CHECK (shop_id = (SELECT shop_now()));
CREATE POLICY in_own_name ON queue_place AS RESTRICTIVE FOR INSERT TO kalon_app
    WITH CHECK (made_by = (SELECT staff_now()) AND taken_by IS NULL);
GRANT SELECT, INSERT ON queue_place TO kalon_app;
GRANT UPDATE (athlete_id, first_of, called, came_at, taken_by, taken_at, fitting_id, done_at, left_at) ON queue_place TO kalon_app;

-- A place in the queue goes with the record of whom it is: to the one it was put together with, back when they are
-- parted, and out with who is erased. How long it took stays.
CREATE FUNCTION queue_follows() RETURNS trigger
LANGUAGE plpgsql SECURITY DEFINER SET search_path = public, pg_temp AS $$
BEGIN
    IF NEW.erased_at IS NOT NULL THEN
        UPDATE queue_place SET athlete_id = NULL, first_of = NULL, left_at = CASE WHEN taken_at IS NULL THEN coalesce(left_at, now())
            ELSE left_at END WHERE athlete_id = NEW.id;
    ELSIF NEW.merged_into IS NOT NULL THEN
        UPDATE queue_place SET athlete_id = NEW.merged_into WHERE athlete_id = NEW.id;
    ELSIF OLD.merged_into IS NOT NULL THEN
        UPDATE queue_place SET athlete_id = NEW.id WHERE first_of = NEW.id;
    END IF;
    RETURN NULL;
END
$$;
REVOKE ALL ON FUNCTION queue_follows FROM PUBLIC;
CREATE TRIGGER queue_follows AFTER UPDATE OF erased_at, merged_into ON athlete
    FOR EACH ROW EXECUTE FUNCTION queue_follows();
