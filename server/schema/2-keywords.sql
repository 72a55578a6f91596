-- Keywords and what is known of them.

-- Keywords and their figures have a partition for each site, so that a large import can write a site's rows aside,
-- index them once and put them in the place of the old ones: keeping four indexes up row by row took most of its time.
-- What hangs on a keyword refers to the site, not to the keyword: a partition whose rows are referred to cannot be
-- replaced, and checking that key row by row took more than half of a large import. No foreign key to the site either:
-- checking it row by row took a fifth of a large import. The site is checked when the work begins; what must go with
-- it goes by one trigger.
--
-- phrase: in the order of its characters' codes. Comparing by a language's rules took most of the time of sorting a
-- large import, and no list depends on that order. imported: a file is one of the ways by which it came; import_id:
-- the one import of a file that named it, null where several did or none. revision: goes up with every change to a
-- keyword's row, so that a browser can ask for what is new. Writers of one site hold an advisory lock while they take
-- numbers, so a lower number never appears after a higher one. Ids and revisions come from sequences of the site.
-- family: key of keywords for which the ads data may have one figure (core/words/family-key, figureKey); which of them
-- are forms of one keyword is worked out from their words.
create table keyword (
  site_id bigint not null,
  id bigint not null,
  phrase text collate "C" not null,
  language text not null,
  family text not null,
  kind text not null,
  intent text not null,
  intent_share real not null,
  words smallint not null,
  kept_at timestamptz,
  created_at timestamptz not null default now(),
  revision bigint not null,
  imported boolean not null default false,
  import_id integer,
  primary key (site_id, id),
  unique (site_id, language, phrase)
) partition by list (site_id);
create index keyword_by_revision on keyword (site_id, revision);
create index keyword_kept on keyword (site_id) where kept_at is not null;

-- Mean of the latest known months, at most so many; months that are not known are left out. null when none is known.
create function mean_of_last_months(months integer[], most integer) returns real language sql immutable as $$
  select avg(month) from (
    select month from unnest(months) with ordinality u (month, at) where month is not null order by at desc limit most
  ) latest
$$;

-- Monthly figures of a place. months[1] is the month months_from. state: known, nothing (the source has nothing),
-- failed. trend to high: what the months show, worked out when figures are saved: fifty microseconds a keyword would
-- be too much when reading. mobile_share: of the searches made on mobile phones, 0 to 1, as the ads data tells it.
-- worldwide: searches a month in all countries. A file may give only some figures: CPC and competition keep a source
-- and date of their own where these are not those of the searches (null = the same). hidden_searches: searches a month
-- that the query log shows at the least, where the ads data was asked and knows nothing or zero (hidden demand).
-- searches: what every sum, order, visit and worth goes by.
create table demand (
  site_id bigint not null,
  keyword_id bigint not null,
  place text not null,
  source text not null,
  state text not null check (state in ('known', 'nothing', 'failed')),
  months_from date,
  months integer[],
  average real,
  hidden_searches real,
  searches real generated always as (coalesce(hidden_searches, average)) stored,
  cpc real,
  bid_low real,
  bid_high real,
  competition real,
  fetched_at timestamptz not null,
  trend text check (trend in ('rising', 'falling', 'steady')),
  yearly real,
  season real,
  peaks smallint[],
  rounded boolean,
  low real,
  high real,
  mobile_share real,
  worldwide real,
  cpc_source text,
  cpc_at timestamptz,
  competition_source text,
  competition_at timestamptz,
  primary key (site_id, keyword_id, place)
) partition by list (site_id);
-- For "which are marked that no longer are": few rows.
create index demand_hidden on demand (site_id) where hidden_searches is not null;

-- Searches a month by match: of exactly the keyword, of phrases that hold its words side by side in its order, and of
-- phrases that hold them anywhere; null = cannot be told. source: ads, as the ads data tells; body, summed over the
-- keywords of the site, so at least.
create table demand_match (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  place text not null,
  source text not null check (source in ('ads', 'body')),
  exact real,
  in_order real,
  any_order real not null,
  primary key (site_id, keyword_id, place)
) partition by hash (site_id);
select make_hash_partitions('demand_match');

-- Exact-match domain names of keywords, and whether the registry has no entry for them.
create table keyword_name (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  name text not null,
  free boolean not null,
  asked_at timestamptz not null default now(),
  primary key (site_id, keyword_id, name)
);

-- How many pages an engine says have a keyword in their text and in their titles; null = it does not say.
create table keyword_count (
  site_id bigint not null references site on delete cascade,
  market_id bigint not null,
  keyword_id bigint not null,
  in_text bigint,
  in_titles bigint,
  asked_at timestamptz not null default now(),
  primary key (site_id, market_id, keyword_id),
  foreign key (site_id, market_id) references market on delete cascade
);

create function make_site_parts() returns trigger language plpgsql as $$
declare
  big text;
  counted text;
begin
  foreach big in array array['keyword', 'demand'] loop
    execute format('create table %I (like %I including all)', big || '_site_' || new.id, big);
    execute format('alter table %I attach partition %I for values in (%s)', big, big || '_site_' || new.id, new.id);
  end loop;
  foreach counted in array array['keyword_id', 'keyword_revision', 'result_page_id', 'result_site_id',
    'known_keyword_id'] loop
    execute format('create sequence %I', counted || '_site_' || new.id);
  end loop;
  -- For rows that are copied into the partition itself.
  execute format('alter table %I alter revision set default nextval(%L)', 'keyword_site_' || new.id,
    'keyword_revision_site_' || new.id);
  return null;
end $$;
create trigger make_site_parts after insert on site for each row execute function make_site_parts();

create function drop_site_parts() returns trigger language plpgsql as $$
declare counted text;
begin
  delete from finding where site_id = old.id;
  execute format('drop table keyword_site_%s, demand_site_%s', old.id, old.id);
  foreach counted in array array['keyword_id', 'keyword_revision', 'result_page_id', 'result_site_id',
    'known_keyword_id'] loop
    execute format('drop sequence %I', counted || '_site_' || old.id);
  end loop;
  return old;
end $$;
create trigger drop_site_parts before delete on site for each row execute function drop_site_parts();

-- conditions: what a keyword must meet before it is stored; dropped: how many did not, by reason. short: sources that
-- had fewer results than were asked for: [{what, given, asked}].
create table gathering (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  market_id bigint not null,
  parent_id bigint,
  seed text not null,
  ways text[] not null,
  most_ideas integer not null,
  found integer not null default 0,
  job_id bigint,
  started_at timestamptz not null default now(),
  conditions jsonb not null default '{}',
  dropped jsonb not null default '{}',
  pruned_at timestamptz,
  short jsonb not null default '[]',
  primary key (site_id, id),
  foreign key (site_id, market_id) references market on delete cascade,
  foreign key (site_id, parent_id) references gathering on delete set null (parent_id)
);
create trigger give_site_id before insert on gathering for each row execute function give_site_id();

create table finding (
  site_id bigint not null,
  keyword_id bigint not null,
  gathering_id bigint not null,
  way text not null,
  found_at timestamptz not null default now(),
  primary key (site_id, keyword_id, gathering_id, way),
  foreign key (site_id, gathering_id) references gathering on delete cascade
) partition by hash (site_id);
create index finding_by_gathering on finding (site_id, gathering_id, keyword_id);
select make_hash_partitions('finding');

-- Named sets of keywords. kind: a shortlist is made for a purpose and looked at as a whole; a label says something
-- about each keyword and stands in its row. visit_worth: what a visit by a keyword with that label is worth to the
-- owner, before that of the site and CPC.
create table list (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  kind text not null check (kind in ('shortlist', 'label')),
  name text not null,
  visit_worth real check (visit_worth > 0),
  created_at timestamptz not null default now(),
  primary key (site_id, id),
  unique (site_id, kind, name)
);
create trigger give_site_id before insert on list for each row execute function give_site_id();
create table list_keyword (
  site_id bigint not null,
  keyword_id bigint not null,
  list_id bigint not null,
  primary key (site_id, keyword_id, list_id),
  foreign key (site_id, list_id) references list on delete cascade
);
create index list_keyword_by_list on list_keyword (site_id, list_id);

-- Rows of the keyword table as they travel, in blocks of revisions: opening a table reads these instead of seven
-- tables. Derived; a keyword that changes gets a higher revision and comes again in a later block, so a block stays
-- true of the time it tells.
create unlogged table row_block (
  site_id bigint not null,
  market_id bigint not null,
  shape text not null,
  from_revision bigint not null,
  to_revision bigint not null,
  keywords integer not null,
  lines text not null,
  primary key (site_id, market_id, from_revision),
  foreign key (site_id, market_id) references market on delete cascade
);
-- Left alone by the database's own compression: it costs more than the reading.
alter table row_block alter column lines set storage external;
