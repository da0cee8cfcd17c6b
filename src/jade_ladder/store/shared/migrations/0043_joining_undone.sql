-- That somebody was let out of a class again was logged as of a student, by the number of the class.
UPDATE log SET subject = 'joining-undone'
WHERE subject = 'membership' AND json_extract(before, '$.members') IS NOT NULL;
