-- Figures and overviews belong to the version of the core that made them: those of an older one are made anew.
alter table source add column core_version text;
