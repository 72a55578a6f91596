-- Keywords in the order of their characters' codes: comparing them by a language's rules took most of the time of sorting a large import,
-- and no list depends on that order.
alter table keyword alter column phrase type text collate "C";
