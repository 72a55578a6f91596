-- Subjects of sites as a snapshot found them: topics is [{"words": […], "sites": n}]; topic_shares tells, a share each in that order, where
-- the standing of a site comes from; null where no topic reaches it.
alter table graph_snapshot add column topics jsonb;
alter table site_standing add column topic_shares real[];
