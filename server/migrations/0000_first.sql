CREATE TABLE `account` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`address` text NOT NULL,
	`smtp_host` text NOT NULL,
	`smtp_port` integer NOT NULL,
	`smtp_security` text NOT NULL,
	`smtp_user` text NOT NULL,
	`smtp_password_sealed` text
);
--> statement-breakpoint
CREATE TABLE `agent` (
	`id` integer PRIMARY KEY NOT NULL,
	`user_agent` text NOT NULL,
	`device` text,
	`system` text,
	`program` text,
	`nature` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `agent_userAgent_unique` ON `agent` (`user_agent`);--> statement-breakpoint
CREATE TABLE `change` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` integer NOT NULL,
	`message_id` integer
);
--> statement-breakpoint
CREATE TABLE `copy` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`message_id` integer NOT NULL,
	`person_id` integer NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`address` text NOT NULL,
	`state` text NOT NULL,
	`message_id_header` text NOT NULL,
	`image_token` text NOT NULL,
	`sent_at` integer,
	`trouble` text,
	`opens` integer DEFAULT 0 NOT NULL,
	`clicks` integer DEFAULT 0 NOT NULL,
	`file_views` integer DEFAULT 0 NOT NULL,
	`answers` integer DEFAULT 0 NOT NULL,
	`set_aside` integer DEFAULT 0 NOT NULL,
	`first_open_at` integer,
	`last_open_at` integer,
	`first_click_at` integer,
	`last_click_at` integer,
	`answered_at` integer,
	`last_event_at` integer,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `copy_messageIdHeader_unique` ON `copy` (`message_id_header`);--> statement-breakpoint
CREATE UNIQUE INDEX `copy_imageToken_unique` ON `copy` (`image_token`);--> statement-breakpoint
CREATE INDEX `copy_message` ON `copy` (`message_id`);--> statement-breakpoint
CREATE TABLE `copy_link` (
	`token` text PRIMARY KEY NOT NULL,
	`copy_id` integer NOT NULL,
	`link_id` integer NOT NULL,
	FOREIGN KEY (`copy_id`) REFERENCES `copy`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`link_id`) REFERENCES `link`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `copy_link_copy` ON `copy_link` (`copy_id`);--> statement-breakpoint
CREATE TABLE `event` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` integer NOT NULL,
	`kind` text NOT NULL,
	`counted` integer NOT NULL,
	`reason` text,
	`message_id` integer NOT NULL,
	`copy_id` integer NOT NULL,
	`link_id` integer,
	`ip` text,
	`agent_id` integer,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `event_message_at` ON `event` (`message_id`,`at`);--> statement-breakpoint
CREATE INDEX `event_at` ON `event` (`at`);--> statement-breakpoint
CREATE TABLE `link` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`message_id` integer NOT NULL,
	`position` integer NOT NULL,
	`text` text NOT NULL,
	`url` text NOT NULL,
	`tracked` integer NOT NULL,
	`clicks` integer DEFAULT 0 NOT NULL,
	`last_click_at` integer,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `link_message` ON `link` (`message_id`);--> statement-breakpoint
CREATE TABLE `message` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`state` text NOT NULL,
	`sender_name` text NOT NULL,
	`sender_address` text NOT NULL,
	`recipients` text NOT NULL,
	`subject` text NOT NULL,
	`html` text NOT NULL,
	`track_opens` integer NOT NULL,
	`track_links` integer NOT NULL,
	`revision` integer NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`queued_at` integer,
	`sent_at` integer,
	`latest_at` integer,
	`opens` integer DEFAULT 0 NOT NULL,
	`clicks` integer DEFAULT 0 NOT NULL,
	`file_views` integer DEFAULT 0 NOT NULL,
	`answers` integer DEFAULT 0 NOT NULL,
	`set_aside` integer DEFAULT 0 NOT NULL,
	`first_open_at` integer,
	`last_open_at` integer,
	`first_click_at` integer,
	`last_click_at` integer,
	`answered_at` integer,
	`last_event_at` integer
);
--> statement-breakpoint
CREATE INDEX `message_latest` ON `message` (`latest_at`);--> statement-breakpoint
CREATE INDEX `message_draft` ON `message` (`updated_at`) WHERE state = 'draft';--> statement-breakpoint
CREATE TABLE `outbox` (
	`copy_id` integer PRIMARY KEY NOT NULL,
	`envelope_from` text NOT NULL,
	`envelope_to` text NOT NULL,
	`raw` blob NOT NULL,
	`attempts` integer DEFAULT 0 NOT NULL,
	`created_at` integer NOT NULL,
	`next_attempt_at` integer NOT NULL,
	FOREIGN KEY (`copy_id`) REFERENCES `copy`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `outbox_next_attempt` ON `outbox` (`next_attempt_at`);--> statement-breakpoint
CREATE TABLE `person` (
	`id` integer PRIMARY KEY NOT NULL,
	`address_key` text NOT NULL,
	`address` text NOT NULL,
	`name` text NOT NULL,
	`firm` text DEFAULT '' NOT NULL,
	`messages` integer DEFAULT 0 NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `person_addressKey_unique` ON `person` (`address_key`);--> statement-breakpoint
CREATE TABLE `session` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`created_at` integer NOT NULL,
	`expires_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `setting` (
	`key` text PRIMARY KEY NOT NULL,
	`value` text NOT NULL
);
