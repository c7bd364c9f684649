CREATE TABLE `copy_file` (
	`token` text PRIMARY KEY NOT NULL,
	`copy_id` integer NOT NULL,
	`sent_file_id` integer NOT NULL,
	FOREIGN KEY (`copy_id`) REFERENCES `copy`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`sent_file_id`) REFERENCES `sent_file`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `copy_file_copy` ON `copy_file` (`copy_id`);--> statement-breakpoint
CREATE TABLE `file` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`added_at` integer NOT NULL,
	`removed_at` integer
);
--> statement-breakpoint
CREATE TABLE `file_version` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`file_id` integer NOT NULL,
	`number` integer NOT NULL,
	`sha256` text NOT NULL,
	`size` integer NOT NULL,
	`media_type` text NOT NULL,
	`kind` text NOT NULL,
	`pages` integer,
	`preparation` text NOT NULL,
	`trouble` text,
	`pages_sha256` text,
	`added_at` integer NOT NULL,
	FOREIGN KEY (`file_id`) REFERENCES `file`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `file_version_file` ON `file_version` (`file_id`);--> statement-breakpoint
CREATE INDEX `file_version_unprepared` ON `file_version` (`id`) WHERE preparation in ('checking', 'waiting', 'converting');--> statement-breakpoint
CREATE TABLE `reading` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`key` text NOT NULL,
	`copy_id` integer NOT NULL,
	`sent_file_id` integer NOT NULL,
	`version_id` integer NOT NULL,
	`event_id` integer NOT NULL,
	`started_at` integer NOT NULL,
	`last_at` integer NOT NULL,
	`given_address` text,
	FOREIGN KEY (`copy_id`) REFERENCES `copy`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`sent_file_id`) REFERENCES `sent_file`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `reading_key_unique` ON `reading` (`key`);--> statement-breakpoint
CREATE INDEX `reading_sent_file` ON `reading` (`sent_file_id`);--> statement-breakpoint
CREATE INDEX `reading_copy` ON `reading` (`copy_id`);--> statement-breakpoint
CREATE INDEX `reading_event` ON `reading` (`event_id`);--> statement-breakpoint
CREATE TABLE `sent_file` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`message_id` integer NOT NULL,
	`file_id` integer NOT NULL,
	`name` text NOT NULL,
	`version_id` integer NOT NULL,
	`follows_newest` integer NOT NULL,
	`may_download` integer NOT NULL,
	`asks_address` integer NOT NULL,
	`ends_at` integer,
	`closed_at` integer,
	`views` integer DEFAULT 0 NOT NULL,
	`last_view_at` integer,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`file_id`) REFERENCES `file`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`version_id`) REFERENCES `file_version`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `sent_file_message` ON `sent_file` (`message_id`);--> statement-breakpoint
CREATE INDEX `sent_file_file` ON `sent_file` (`file_id`);--> statement-breakpoint
ALTER TABLE `event` ADD `sent_file_id` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `reading_id` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `visit` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `page` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `read_ms` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `active` integer DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX `event_reading` ON `event` (`reading_id`,`visit`) WHERE reading_id is not null;--> statement-breakpoint
ALTER TABLE `message` ADD `files` text DEFAULT '[]' NOT NULL;