-- Rows of the keyword table as they travel, in blocks of revisions: opening a table reads these instead of seven tables. Derived; a
-- keyword that changes gets a higher revision and comes again in a later block, so a block stays true of the time it tells.
create unlogged table row_block (
  site_id bigint not null references site on delete cascade,
  market_id bigint not null references market on delete cascade,
  shape text not null,
  from_revision bigint not null,
  to_revision bigint not null,
  keywords integer not null,
  lines text not null,
  primary key (site_id, market_id, from_revision)
);
-- Left alone by the database's own compression: it costs more than the reading.
alter table row_block alter column lines set storage external;
