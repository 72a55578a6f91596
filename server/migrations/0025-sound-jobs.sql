-- The same work asked for twice is one job: while one of a key is open, another of the same site, kind and key is not made.
alter table job add column key text;
create unique index job_open_key on job (site_id, kind, key) where ended_at is null;

-- How often the process that ran a job died, or the job stopped moving, without getting further than `furthest`, the most it had
-- done at an earlier end of that kind. Work that brings its process down twice at one place is not handed out a third time.
alter table job add column deaths smallint not null default 0;
alter table job add column furthest integer not null default -1;
