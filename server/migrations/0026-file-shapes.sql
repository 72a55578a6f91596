-- Which line of an uploaded table names its columns, and how many those are: what stands above it is left out, and a row over several
-- lines must have as many cells.
alter table import add column header_line integer not null default 1;
alter table import add column columns integer not null default 1;
