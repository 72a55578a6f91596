-- What the months of a keyword show, worked out when its figures are saved: fifty microseconds a keyword would be too much when reading.
alter table demand
  add column trend text check (trend in ('rising', 'falling', 'steady')),
  add column yearly real,
  add column season real,
  add column peaks smallint[],
  add column rounded boolean,
  add column low real,
  add column high real;

-- conditions: what a keyword must meet before it is stored; dropped: how many did not, by reason.
alter table gathering
  add column conditions jsonb not null default '{}',
  add column dropped jsonb not null default '{}',
  add column pruned_at timestamptz;

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

create table shortlist (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
  name text not null,
  created_at timestamptz not null default now(),
  unique (site_id, name)
);
create table shortlist_keyword (
  site_id bigint not null,
  keyword_id bigint not null,
  shortlist_id bigint not null references shortlist on delete cascade,
  primary key (site_id, keyword_id, shortlist_id)
);
create index shortlist_keyword_by_list on shortlist_keyword (shortlist_id);

create table log_property (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
  property text not null,
  name text not null,
  last_day date,
  loaded_at timestamptz,
  unique (site_id, property)
);
-- The own query log by week (Monday). position: mean over the impressions.
create table log_week (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  property_id bigint not null references log_property on delete cascade,
  week date not null,
  place text not null,
  device text not null check (device in ('desktop', 'mobile')),
  impressions integer not null,
  clicks integer not null,
  position real not null,
  primary key (site_id, keyword_id, property_id, week, place, device)
) partition by hash (site_id);
-- The same summed over the last weeks, all devices; derived. searches: the least searches a month that the log shows.
create table log_sum (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  place text not null,
  days integer not null,
  impressions integer not null,
  clicks integer not null,
  position real not null,
  searches real not null,
  primary key (site_id, keyword_id, place)
) partition by hash (site_id);
-- Click shares by place, fitted from the own log. shares[1] is place 1.
create table click_curve (
  site_id bigint not null references site on delete cascade,
  device text not null check (device in ('desktop', 'mobile')),
  brand boolean not null,
  shares real[] not null,
  impressions bigint[] not null,
  fitted_at timestamptz not null default now(),
  primary key (site_id, device, brand)
);

do $$
declare big text;
begin
  foreach big in array array['log_week', 'log_sum'] loop
    for part in 0..7 loop
      execute format('create table %I partition of %I for values with (modulus 8, remainder %s)', big || '_' || part, big, part);
    end loop;
  end loop;
end $$;

alter table log_property add column gathering_id bigint references gathering on delete set null;
alter table import drop constraint import_kind_check;
alter table import add constraint import_kind_check check (kind in ('keywords', 'positions', 'log'));
