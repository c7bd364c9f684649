CREATE TABLE `incoming_original` (
	`incoming_id` integer PRIMARY KEY NOT NULL,
	`raw` blob NOT NULL,
	FOREIGN KEY (`incoming_id`) REFERENCES `incoming`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `mailbox_failure` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`path` text NOT NULL,
	`uid_validity` text NOT NULL,
	`uid` integer NOT NULL,
	`attempts` integer NOT NULL,
	`last_attempt_at` integer NOT NULL,
	`received_at` integer NOT NULL,
	`from_address` text DEFAULT '' NOT NULL,
	`subject` text DEFAULT '' NOT NULL,
	`problem` text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `mailbox_failure_uid` ON `mailbox_failure` (`path`,`uid_validity`,`uid`);--> statement-breakpoint
ALTER TABLE `incoming` ADD `verdict` text;--> statement-breakpoint
ALTER TABLE `incoming` ADD `problem` text;--> statement-breakpoint
ALTER TABLE `session` ADD `last_seen_at` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `session` ADD `user_agent` text DEFAULT '' NOT NULL;--> statement-breakpoint
UPDATE `session` SET `last_seen_at` = `created_at`;
