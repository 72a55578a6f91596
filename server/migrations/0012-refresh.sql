-- Whether kept keywords whose weighing is old are weighed again at night.
alter table site add column refresh_weighings boolean not null default false;
