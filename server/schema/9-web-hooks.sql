-- Addresses that are told of what happens in a site. Their secrets are sealed (sealed_secret).
create table web_hook (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  address text not null,
  events text[] not null,
  active boolean not null default true,
  version integer not null default 1,
  primary key (site_id, id)
);
create trigger give_site_id before insert on web_hook for each row execute function give_site_id();
-- What was, or is to be, sent. They are written by triggers, in the transaction of what happened: nothing is told that
-- did not happen, and nothing is forgotten when the program ends in between.
create table web_hook_delivery (
  site_id bigint not null,
  id bigint not null,
  hook_id bigint not null,
  event text not null check (event in ('alert', 'jobDone', 'jobFailed', 'test')),
  title text not null,
  data jsonb not null,
  made_at timestamptz not null default now(),
  state text not null default 'waiting' check (state in ('waiting', 'delivered', 'failed')),
  tries integer not null default 0,
  -- When it is tried (again); only of waiting ones.
  next_try_at timestamptz default now(),
  tried_at timestamptz,
  status integer,
  what text,
  primary key (site_id, id),
  foreign key (site_id, hook_id) references web_hook on delete cascade
);
create index web_hook_delivery_due on web_hook_delivery (next_try_at) where state = 'waiting';
create index web_hook_delivery_by_hook on web_hook_delivery (site_id, hook_id, id desc);
create trigger give_site_id before insert on web_hook_delivery for each row execute function give_site_id();

create function tell_web_hooks(of_site bigint, what text, title text, data jsonb) returns void language sql as $$
  insert into web_hook_delivery (site_id, hook_id, event, title, data)
    select site_id, id, what, title, data from web_hook where site_id = of_site and active and what = any(events)
$$;
create function tell_of_alert() returns trigger language plpgsql as $$
begin
  perform tell_web_hooks(new.site_id, 'alert', new.title, jsonb_build_object('alertId', new.id, 'marketId',
    new.market_id,
    'day', new.day, 'title', new.title, 'body', new.body, 'keywords', new.keywords));
  return null;
end $$;
create trigger tell_of_alert after insert on alert for each row execute function tell_of_alert();
create function tell_of_job() returns trigger language plpgsql as $$
begin
  perform tell_web_hooks(new.site_id, case new.state when 'failed' then 'jobFailed' else 'jobDone' end, new.title,
    jsonb_build_object('jobId', new.id, 'kind', new.kind, 'title', new.title, 'state', new.state, 'result',
      new.result, 'error', new.error));
  return null;
end $$;
create trigger tell_of_job after update on job for each row
  when (old.ended_at is null and new.ended_at is not null and new.site_id is not null and new.state in ('done',
    'failed'))
  execute function tell_of_job();
