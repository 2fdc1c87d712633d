-- The table by the trade's name for what it keeps.
alter table kept_answer rename to idempotency_record;
alter index kept_answer_pkey rename to idempotency_record_pkey;
alter index kept_answer_created_at_idx rename to idempotency_record_created_at_idx;
