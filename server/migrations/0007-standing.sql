-- Figures computed over a graph, by snapshot. rank is PageRank (sums to 1 over the graph); standing, trust 0–100, doubt at most 1.
create table graph_snapshot (
  id bigint generated always as identity primary key,
  graph_id integer not null references graph on delete cascade,
  made_at timestamptz not null default now(),
  pages integer not null,
  sites integer not null,
  links bigint not null,
  site_edges bigint not null,
  page_floor double precision not null,
  page_reference double precision not null,
  site_floor double precision not null,
  site_reference double precision not null,
  vetted integer not null,
  read_ms integer not null,
  rank_ms integer not null,
  written_ms integer
);
create index graph_snapshot_by_graph on graph_snapshot (graph_id, id desc);
create table site_standing (
  graph_id integer not null,
  snapshot_id bigint not null references graph_snapshot on delete cascade,
  site_id integer not null,
  rank double precision not null,
  standing real not null,
  trust real,
  doubt real,
  cluster integer not null,
  linking_sites integer not null,
  links_to_sites integer not null,
  primary key (graph_id, snapshot_id, site_id)
);
-- Pages of the latest snapshots only: there are many.
create table page_standing (
  graph_id integer not null,
  snapshot_id bigint not null,
  page_id integer not null,
  rank real not null,
  standing real not null,
  links_out integer not null
) partition by hash (graph_id, page_id);
do $$
begin
  for part in 0..7 loop
    execute format('create table %I partition of page_standing for values with (modulus 8, remainder %s)', 'page_standing_' || part, part);
    execute format('create index %I on %I (graph_id, page_id, snapshot_id)', 'page_standing_by_page_' || part, 'page_standing_' || part);
  end loop;
end $$;

-- Sites that somebody looked at and vouches for, as trust begins with them.
create table vetted_site (
  graph_id integer not null references graph on delete cascade,
  domain text not null,
  why text not null,
  added_at timestamptz not null default now(),
  primary key (graph_id, domain)
);

alter table import drop constraint import_kind_check;
alter table import add constraint import_kind_check check (kind in ('keywords', 'positions', 'log', 'links'));
