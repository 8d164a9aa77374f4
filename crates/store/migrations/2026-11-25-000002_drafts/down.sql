DROP TABLE draft_states;
DROP TABLE drafts;
