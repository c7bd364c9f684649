CREATE TABLE `app_password` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`hash` text NOT NULL,
	`created_at` integer NOT NULL,
	`last_used_at` integer
);
--> statement-breakpoint
CREATE UNIQUE INDEX `app_password_hash_unique` ON `app_password` (`hash`);--> statement-breakpoint
CREATE TABLE `picture` (
	`id` text PRIMARY KEY NOT NULL,
	`media_type` text NOT NULL,
	`bytes` blob NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `signature` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`html` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `submission` (
	`message_id` integer PRIMARY KEY NOT NULL,
	`raw` blob NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `template` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`subject` text NOT NULL,
	`html` text NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`removed_at` integer
);
--> statement-breakpoint
DROP INDEX `copy_messageIdHeader_unique`;--> statement-breakpoint
ALTER TABLE `copy` ADD `delivery_receipt` text;--> statement-breakpoint
CREATE INDEX `copy_message_id_header` ON `copy` (`message_id_header`);--> statement-breakpoint
CREATE INDEX `copy_person` ON `copy` (`person_id`);--> statement-breakpoint
CREATE INDEX `copy_not_sent` ON `copy` (`state`) WHERE state <> 'sent';--> statement-breakpoint
ALTER TABLE `account` ADD `smtp_auth` text DEFAULT 'password' NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `origin` text DEFAULT 'written' NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `untracked` text;--> statement-breakpoint
ALTER TABLE `message` ADD `disclose` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `delivery_receipt` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `read_receipt` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `note` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `template_id` integer REFERENCES template(id);--> statement-breakpoint
ALTER TABLE `message` ADD `conversation` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `recurrence` text;--> statement-breakpoint
ALTER TABLE `person` ADD `do_not_track` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `opted_out_at` integer;