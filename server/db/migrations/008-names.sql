-- The trade's names: what an item becomes once is its render, what goes to a receiver is a submission.
alter table work rename to item_render;
alter table work_segment rename to item_render_segment;
alter table item_render_segment rename column work_id to item_render_id;
alter index work_once rename to item_render_once;
alter table handover rename to submission;
alter index handover_of_project rename to submission_of_project;
update job set queue = 'submission' where queue = 'handover';
