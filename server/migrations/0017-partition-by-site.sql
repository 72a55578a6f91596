-- Keywords and their figures have a partition for each site, so that a large import can write a site's rows aside, index them once and
-- put them in the place of the old ones: keeping four indexes up row by row took most of its time.
-- What hangs on a keyword refers to the site alone: a partition whose rows are referred to cannot be replaced.
alter table page_plan_keyword drop constraint page_plan_keyword_site_id_keyword_id_fkey,
  add foreign key (site_id) references site on delete cascade;
alter table tracked_keyword drop constraint tracked_keyword_site_id_keyword_id_fkey,
  add foreign key (site_id) references site on delete cascade;

alter table keyword rename to keyword_before;
alter table demand rename to demand_before;
create table keyword (like keyword_before including defaults including constraints) partition by list (site_id);
create table demand (like demand_before including defaults including constraints) partition by list (site_id);

create function make_partitions(site bigint) returns void language plpgsql as $$
declare big text;
begin
  foreach big in array array['keyword', 'demand'] loop
    execute format('create table %I (like %I including all)', big || '_site_' || site, big);
    execute format('alter table %I attach partition %I for values in (%s)', big, big || '_site_' || site, site);
  end loop;
end $$;
select make_partitions(id) from site;

insert into keyword select * from keyword_before;
insert into demand select * from demand_before;
drop table keyword_before, demand_before;
alter table keyword add primary key (site_id, id);
alter table keyword add unique (site_id, language, phrase);
create index keyword_by_revision on keyword (site_id, revision);
create index keyword_kept on keyword (site_id) where kept_at is not null;
alter table demand add primary key (site_id, keyword_id, place);

create function meet_site() returns trigger language plpgsql as $$
begin
  perform make_partitions(new.id);
  return null;
end $$;
create trigger meet_site after insert on site for each row execute function meet_site();

create or replace function forget_keywords() returns trigger language plpgsql as $$
begin
  delete from finding where site_id = old.id;
  execute format('drop table keyword_site_%s, demand_site_%s', old.id, old.id);
  return old;
end $$;
