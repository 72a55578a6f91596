-- A file may give only some figures of a keyword: CPC and competition keep a source and date of their own where these are not those
-- of the searches (null = the same).
alter table demand add column cpc_source text, add column cpc_at timestamptz, add column competition_source text, add column competition_at timestamptz;
