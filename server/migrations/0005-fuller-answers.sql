-- Share of the searches made on mobile phones, 0 to 1, as the ads data tells it.
alter table demand add column mobile_share real;
-- Searches a month in all countries together.
alter table demand add column worldwide real;
-- Sources that had fewer results than a gathering asked for: [{what, given, asked}].
alter table gathering add column short jsonb not null default '[]';
