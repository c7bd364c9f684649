CREATE TABLE `incoming` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`identity` text NOT NULL,
	`kind` text NOT NULL,
	`at` integer NOT NULL,
	`message_id` integer NOT NULL,
	`copy_id` integer NOT NULL,
	`message_id_header` text,
	`from_name` text NOT NULL,
	`from_address` text NOT NULL,
	`subject` text NOT NULL,
	`words` text NOT NULL,
	`doubt` text,
	`html` text NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `incoming_identity_unique` ON `incoming` (`identity`);--> statement-breakpoint
CREATE INDEX `incoming_message` ON `incoming` (`message_id`);--> statement-breakpoint
CREATE TABLE `mailbox_folder` (
	`path` text PRIMARY KEY NOT NULL,
	`uid_validity` text NOT NULL,
	`last_uid` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `plan` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`message_id` integer NOT NULL,
	`state` text NOT NULL,
	`zone` text NOT NULL,
	`words` text,
	`ended_at` integer,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE UNIQUE INDEX `plan_messageId_unique` ON `plan` (`message_id`);--> statement-breakpoint
CREATE INDEX `plan_running` ON `plan` (`id`) WHERE state = 'running';--> statement-breakpoint
CREATE INDEX `plan_ended` ON `plan` (`ended_at`);--> statement-breakpoint
CREATE TABLE `plan_step` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`plan_id` integer NOT NULL,
	`template_id` integer NOT NULL,
	`condition` text NOT NULL,
	`working_days` integer NOT NULL,
	`time` text,
	`state` text NOT NULL,
	`due_at` integer,
	`message_id` integer,
	`words` text,
	FOREIGN KEY (`plan_id`) REFERENCES `plan`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`template_id`) REFERENCES `template`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE set null
);
--> statement-breakpoint
CREATE INDEX `plan_step_plan` ON `plan_step` (`plan_id`);--> statement-breakpoint
CREATE INDEX `plan_step_message` ON `plan_step` (`message_id`);--> statement-breakpoint
CREATE TABLE `reminder` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`state` text NOT NULL,
	`due_at` integer NOT NULL,
	`condition` text NOT NULL,
	`note` text NOT NULL,
	`mails` integer NOT NULL,
	`zone` text NOT NULL,
	`message_id` integer,
	`person_id` integer,
	`words` text,
	`created_at` integer NOT NULL,
	`ended_at` integer,
	`unmailed` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE set null
);
--> statement-breakpoint
CREATE INDEX `reminder_open` ON `reminder` (`due_at`) WHERE state in ('waiting', 'due');--> statement-breakpoint
CREATE INDEX `reminder_message` ON `reminder` (`message_id`);--> statement-breakpoint
CREATE INDEX `reminder_ended` ON `reminder` (`ended_at`);--> statement-breakpoint
CREATE TABLE `sent_copy` (
	`message_id` integer PRIMARY KEY NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `change` ADD `reminder_id` integer;--> statement-breakpoint
ALTER TABLE `copy` ADD `read_receipt` text;--> statement-breakpoint
ALTER TABLE `event` ADD `incoming_id` integer;--> statement-breakpoint
ALTER TABLE `message` ADD `reminder` text;--> statement-breakpoint
ALTER TABLE `message` ADD `plan` text;--> statement-breakpoint
ALTER TABLE `template` ADD `reminder` text;