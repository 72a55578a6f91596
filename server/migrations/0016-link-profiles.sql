-- Linking sites of a site by their standing, in five bands of 20: a profile reads one row instead of counting.
alter table site_standing add column linking_bands integer[];
