-- What is handed to clients: reports, composed of sections, and what they issued.

-- sections: as in contract/reports. mail_to, and the schedule of kind "report" with this report's number: it issues
-- itself.
create table report (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  name text not null,
  market_id bigint not null,
  days integer not null default 28,
  colour text not null default '#0d5c63',
  language text not null default 'en',
  sections jsonb not null,
  mail_to text,
  version integer not null default 1,
  removed_at timestamptz,
  primary key (site_id, id),
  foreign key (site_id, market_id) references market on delete cascade
);
create trigger give_site_id before insert on report for each row execute function give_site_id();

-- A report as it was issued; document: as in core/reports/report-document. It never changes.
create table report_issue (
  site_id bigint not null,
  id bigint not null,
  report_id bigint not null,
  as_of date not null,
  since date not null,
  made_at timestamptz not null default now(),
  by_schedule boolean not null,
  document jsonb not null,
  primary key (site_id, id),
  foreign key (site_id, report_id) references report on delete cascade
);
create trigger give_site_id before insert on report_issue for each row execute function give_site_id();
create index report_issue_by_report on report_issue (site_id, report_id, as_of);

create table report_logo (
  site_id bigint primary key references site on delete cascade,
  type text not null check (type in ('image/png', 'image/jpeg')),
  bytes bytea not null
);
