-- What a supplier calls a colour is said once, like its other words.
ALTER TABLE sheet_word DROP CONSTRAINT sheet_word_field_check,
    ADD CONSTRAINT sheet_word_field_check
    CHECK (field IN ('sport', 'width', 'upper', 'pairs', 'child', 'meant_for', 'colour')),
    DROP CONSTRAINT sheet_word_answer_check,
    ADD CONSTRAINT sheet_word_answer_check CHECK (answer <> '' AND length(answer) <= 60);
