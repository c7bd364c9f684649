CREATE TABLE `check_result` (
	`name` text PRIMARY KEY NOT NULL,
	`state` text NOT NULL,
	`detail` text NOT NULL,
	`advice` text,
	`records` text NOT NULL,
	`since` integer NOT NULL,
	`at` integer NOT NULL,
	`email_pending` integer DEFAULT false NOT NULL
);
--> statement-breakpoint
ALTER TABLE `change` ADD `check_name` text;