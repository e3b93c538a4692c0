ALTER TABLE "job" DROP CONSTRAINT "job_sort";--> statement-breakpoint
ALTER TABLE "job" DROP CONSTRAINT "job_state";--> statement-breakpoint
ALTER TABLE "job" ADD COLUMN "ordinal" bigint NOT NULL GENERATED ALWAYS AS IDENTITY (sequence name "job_ordinal_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1);--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_sort" CHECK ("sort" IN ('pull', 'upload', 'statement', 'bank_pull', 'post', 'take_back', 'confirm', 'confirm_certain', 'compose', 'count'));--> statement-breakpoint
ALTER TABLE "job" ADD CONSTRAINT "job_state" CHECK ("state" IN ('waiting', 'running', 'cancelling', 'done', 'failed', 'cancelled'));