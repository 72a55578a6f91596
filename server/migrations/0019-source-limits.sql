-- Most requests a day that a source is asked, as the user set it; a source without a row has no limit of ours.
create table source_limit (
  source text primary key,
  most_a_day integer not null check (most_a_day >= 0)
);
