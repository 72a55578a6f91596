-- What kind of site is vouched for, and whether somebody decided that a site is not: such a one is not vetted again by its name.
alter table vetted_site add column kind text not null default 'institution' check (kind in ('institution', 'directory', 'other')),
  add column refused boolean not null default false;
