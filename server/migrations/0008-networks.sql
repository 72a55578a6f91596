-- Addresses of sites as link feeds tell them.
create table site_address (
  graph_id integer not null,
  site_id integer not null,
  address inet not null,
  seen_on date not null,
  primary key (graph_id, site_id, address)
);
-- Sites that look as if they were made to link each other, with the reasons of the group.
alter table site_standing add network integer, add network_reasons text[];
