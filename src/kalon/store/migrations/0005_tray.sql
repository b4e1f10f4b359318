-- A tray keeps its pairs off the shelf while its fitting is open: counted without reading what was ever pulled.
-- depends: 0004_trust

ALTER TABLE tray_pair ADD COLUMN held boolean NOT NULL DEFAULT true;
UPDATE tray_pair t SET held = false FROM fitting f WHERE f.id = t.fitting_id AND f.state <> 'open';
DROP INDEX tray_of_line;
CREATE INDEX tray_held ON tray_pair (stock_line_id) WHERE held;
GRANT UPDATE (held) ON tray_pair TO kalon_app;

-- As many as are listed at once: few enough that the planner finds each by its id.
ALTER FUNCTION athletes_named(text, integer) ROWS 100;
