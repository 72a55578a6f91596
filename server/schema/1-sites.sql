-- Sites and what every part of the program hangs on them.
--
-- A site can be moved to another server: everything of it is keyed (site_id, id), and its ids are counted within it.
-- Every big table's key begins with the site, and is partitioned by it from the start.

create table site (
  id bigint generated always as identity primary key,
  domain text not null unique,
  name text not null,
  -- Whether kept keywords whose weighing is old are weighed again at night.
  refresh_weighings boolean not null default false,
  -- IANA name of the time zone that hours of schedules are of.
  time_zone text not null default 'UTC',
  -- What a visit is worth to the owner, in the currency of the ads data; null: what advertisers pay for a click stands
  -- for it.
  visit_worth real check (visit_worth > 0),
  -- Share of searches without a brand word that click the first result, as the owner says; null: as the log shows,
  -- else the default.
  first_share real check (first_share > 0 and first_share < 1),
  -- How many of the latest known months searches are the mean of.
  average_months smallint not null default 12 check (average_months in (3, 12, 24)),
  -- Monday of the last week in which links came in a burst and it was noted.
  bursts_noted_until date,
  -- When it was removed: from then on it is not there, a day later its data goes.
  removed_at timestamptz,
  created_at timestamptz not null default now()
);

-- The highest id given so far, by site and table.
create table site_counter (
  site_id bigint not null references site on delete cascade,
  counted text not null,
  last bigint not null,
  primary key (site_id, counted)
);
create function give_site_id() returns trigger language plpgsql as $$
begin
  insert into site_counter as c (site_id, counted, last) values (new.site_id, tg_table_name, 1)
    on conflict (site_id, counted) do update set last = c.last + 1 returning last into new.id;
  return new;
end $$;

-- Partitions of a table that is hashed over eight.
create function make_hash_partitions(big text) returns void language plpgsql as $$
begin
  for part in 0..7 loop
    execute format('create table %I partition of %I for values with (modulus 8, remainder %s)', big || '_' || part,
      big, part);
  end loop;
end $$;

create table market (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  engine text not null,
  place text not null,
  language text not null,
  device text not null check (device in ('desktop', 'mobile')),
  -- What the user calls it, and whether checks that run by themselves leave it out.
  name text,
  paused boolean not null default false,
  -- Last day whose positions stand in position_year too; later ones stand in position_day alone. null: none does.
  folded_until date,
  primary key (site_id, id),
  unique (site_id, engine, place, language, device)
);
create trigger give_site_id before insert on market for each row execute function give_site_id();

create table brand_word (
  site_id bigint not null references site on delete cascade,
  owner text not null,
  own boolean not null,
  wording text not null,
  primary key (site_id, wording)
);

-- Saved columns, conditions and order of a table, usable in every site.
create table saved_view (
  id bigint generated always as identity primary key,
  sheet text not null,
  name text not null,
  state jsonb not null,
  created_at timestamptz not null default now(),
  unique (sheet, name)
);

-- Work that comes round. kind: what a feature registered; subject: what of the site it is about, empty where it is all
-- of it. hour is of the site's time zone; weekday 1 (Monday) to 7 for weekly, day_of_month for monthly ones. A run
-- that was missed is caught up once: was_late.
create table schedule (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  kind text not null,
  subject jsonb not null default '{}',
  every text not null check (every in ('day', 'week', 'month')),
  hour smallint not null check (hour between 0 and 23),
  weekday smallint check (weekday between 1 and 7),
  day_of_month smallint check (day_of_month between 1 and 31),
  next_at timestamptz not null,
  last_at timestamptz,
  was_late boolean not null default false,
  last_error text,
  primary key (site_id, id),
  unique (site_id, kind, subject)
);
create index schedule_due on schedule (next_at);
create trigger give_site_id before insert on schedule for each row execute function give_site_id();

-- What happened on a day, to be seen beside what changed. touches: what of the site it is about: {"marketId",
-- "keywordId", "pageId"}, all optional. version: goes up with each change, so that a change of what somebody else
-- changed meanwhile is refused.
create table note (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  day date not null,
  text text not null,
  touches jsonb not null default '{}',
  version integer not null default 1,
  created_at timestamptz not null default now(),
  primary key (site_id, id)
);
create index note_by_day on note (site_id, day);
create trigger give_site_id before insert on note for each row execute function give_site_id();
