-- Positions over a town: grids of points, their runs, and what was listed at each point.

-- Businesses as the local results and the town map told them last. source_id: what the source calls it. A run refers
-- to their numbers, so they stay when a run is gone.
create table place_business (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  source_id text not null,
  name text not null,
  category text not null,
  street text,
  phone text,
  url text,
  rating real,
  reviews integer,
  photos integer,
  hours text,
  opened_on date,
  latitude double precision not null,
  longitude double precision not null,
  seen_on date not null,
  primary key (site_id, id),
  unique (site_id, source_id)
);
create trigger give_site_id before insert on place_business for each row execute function give_site_id();

-- What is looked at: businesses of one owner, keywords, and a square of points around a centre. left_out: points that
-- no run asks about, by their place in the grid, row by row from the north-west. town: as the source calls it.
create table place_grid (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  name text not null,
  town text not null,
  town_name text not null,
  engine text not null,
  language text not null,
  keywords text[] not null,
  business_ids bigint[] not null,
  latitude double precision not null,
  longitude double precision not null,
  size smallint not null check (size between 3 and 21 and size % 2 = 1),
  spacing integer not null check (spacing between 20 and 5000),
  depth smallint not null default 20,
  left_out smallint[] not null default '{}',
  created_at timestamptz not null default now(),
  removed_at timestamptz,
  version integer not null default 1,
  primary key (site_id, id)
);
create trigger give_site_id before insert on place_grid for each row execute function give_site_id();

-- keywords, left_out: of the grid when the run began. day: the day whose results were asked for.
create table place_run (
  site_id bigint not null,
  id bigint not null,
  grid_id bigint not null,
  day date not null,
  keywords text[] not null,
  left_out smallint[] not null,
  job_id bigint,
  created_at timestamptz not null default now(),
  removed_at timestamptz,
  primary key (site_id, id),
  foreign key (site_id, grid_id) references place_grid on delete cascade
);
create index place_run_by_grid on place_run (site_id, grid_id, id desc);
create trigger give_site_id before insert on place_run for each row execute function give_site_id();

-- keyword, point: places in the run's keywords and in its grid. listings: numbers of businesses, the first first. A
-- point without a row was not checked, which says nothing of who is listed there.
create table place_point (
  site_id bigint not null,
  run_id bigint not null,
  keyword smallint not null,
  point smallint not null,
  listings integer[] not null,
  primary key (site_id, run_id, keyword, point),
  foreign key (site_id, run_id) references place_run on delete cascade
) partition by hash (site_id);
select make_hash_partitions('place_point');
