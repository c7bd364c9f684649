CREATE INDEX `copy_file_sent_file` ON `copy_file` (`sent_file_id`);--> statement-breakpoint
CREATE INDEX `copy_link_link` ON `copy_link` (`link_id`);--> statement-breakpoint
CREATE INDEX `file_version_sha256` ON `file_version` (`sha256`);--> statement-breakpoint
CREATE INDEX `file_version_pages_sha256` ON `file_version` (`pages_sha256`) WHERE "file_version"."pages_sha256" is not null;--> statement-breakpoint
CREATE INDEX `file_version_first_page_sha256` ON `file_version` (`first_page_sha256`) WHERE "file_version"."first_page_sha256" is not null;--> statement-breakpoint
CREATE INDEX `message_template` ON `message` (`template_id`) WHERE "message"."template_id" is not null;--> statement-breakpoint
CREATE INDEX `plan_step_template` ON `plan_step` (`template_id`);--> statement-breakpoint
CREATE INDEX `reminder_person` ON `reminder` (`person_id`) WHERE "reminder"."person_id" is not null;--> statement-breakpoint
CREATE INDEX `sent_file_version` ON `sent_file` (`version_id`);