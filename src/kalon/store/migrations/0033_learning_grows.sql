-- Learning that doesn't grow: which makers a version is of is rows, found by maker; what follow-ups show of giving is
-- kept summed by model; and where the learner stood is kept, to begin from.
-- depends: 0032_plans_kept

CREATE TABLE learned_maker (
    chain_id uuid NOT NULL,
    maker text NOT NULL,
    version integer NOT NULL,
    PRIMARY KEY (chain_id, maker, version),
    FOREIGN KEY (chain_id, version) REFERENCES learned_version (chain_id, version)
);
COMMENT ON TABLE learned_maker IS 'Of which makers a version is; what it knows of them is in learned, and may be nothing.';
INSERT INTO learned_maker (chain_id, maker, version)
    SELECT DISTINCT v.chain_id, m.maker, v.version FROM learned_version v, unnest(v.makers) m (maker);
ALTER TABLE learned_version DROP COLUMN makers;
ALTER TABLE learned_maker ENABLE ROW LEVEL SECURITY;
CREATE POLICY of_chain ON learned_maker TO kalon_app USING (chain_id = (SELECT chain_now()));
GRANT SELECT ON learned_maker TO kalon_app;

COMMENT ON TABLE learned_give IS 'By kind and by model of it: the newest row up to a version stands; one that nothing was seen of took it back.';
INSERT INTO learned_give (chain_id, version, kind, model_id, log_mean, log_sd, seen)
    SELECT DISTINCT g.chain_id, n.version, g.kind, g.model_id, 0.0, 1.0, 0 FROM learned_give g
    JOIN (SELECT chain_id, max(version) AS version FROM learned_give GROUP BY 1) n ON n.chain_id = g.chain_id
    WHERE NOT EXISTS (SELECT 1 FROM learned_give k WHERE k.chain_id = g.chain_id AND k.version = n.version
                      AND k.kind = g.kind AND k.model_id IS NOT DISTINCT FROM g.model_id);
CREATE INDEX learned_give_newest ON learned_give (chain_id, kind, model_id, version DESC);

-- What all follow-ups of a model of a kind say of how much it gives, as one curve; which pieces of evidence are in it.
CREATE TABLE give_curve (
    chain_id uuid NOT NULL REFERENCES chain (id),
    kind text NOT NULL,
    model_id uuid NOT NULL,
    pieces bigint[] NOT NULL,
    likely bytea NOT NULL,
    share bytea NOT NULL,
    PRIMARY KEY (chain_id, kind, model_id)
);
COMMENT ON COLUMN give_curve.likely IS 'Log likelihood over core.learn.give.GRID, 64-bit floats, from all of pieces.';
COMMENT ON COLUMN give_curve.share IS 'Log of what likely says of its kind, over the same grid.';
ALTER TABLE chain ADD COLUMN gives_summed_by text NOT NULL DEFAULT '';
COMMENT ON COLUMN chain.gives_summed_by IS 'The code by which the curves of give_curve were summed; where it is another, they are summed anew.';
ALTER TABLE give_curve ENABLE ROW LEVEL SECURITY;

-- Where verdicts stood when a maker (or, named by nothing, all together) was learned last. It only saves rounds.
CREATE TABLE learn_start (
    chain_id uuid NOT NULL REFERENCES chain (id),
    maker text NOT NULL,
    zone text NOT NULL,
    body bytea NOT NULL,
    code text NOT NULL,
    PRIMARY KEY (chain_id, maker, zone)
);
ALTER TABLE learn_start ENABLE ROW LEVEL SECURITY;
CREATE INDEX learn_maker_due_of ON learn_maker_due (chain_id, maker);
