-- The documents of the ledger and what each counts as, as packages/core/src/composing/documents.ts says; a test holds the two against each other.
CREATE VIEW document_sort AS
  SELECT * FROM (VALUES
    ('journal', true, false, false, false, false, true),
    ('correction', true, false, false, false, false, false),
    ('transfer', false, true, false, false, false, false),
    ('cost', false, false, false, false, false, false),
    ('reversal', false, false, true, false, false, false),
    ('by_hand', false, false, false, false, false, true),
    ('bank', false, false, false, false, true, false),
    ('decision', false, false, false, false, false, false),
    ('opening', false, false, false, true, false, false)
  ) AS sorts(document, books_lines, moves_payout, mirrors, opens, from_bank, may_repeat);
--> statement-breakpoint
GRANT SELECT ON document_sort TO culvert_app;
