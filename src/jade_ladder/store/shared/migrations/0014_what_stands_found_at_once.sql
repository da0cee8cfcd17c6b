-- What stands in a mark is found by index, however often it was changed.
DROP INDEX mark_choice_of_mark;
CREATE INDEX mark_choice_of_mark ON mark_choice (mark_id, until_version);
DROP INDEX mark_remark_of_mark;
CREATE INDEX mark_remark_of_mark ON mark_remark (mark_id, until_version);
