CREATE TABLE `round` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`name` text NOT NULL,
	`state` text NOT NULL,
	`pause_reason` text,
	`wordings` text NOT NULL,
	`content` text NOT NULL,
	`pace` text NOT NULL,
	`recent_days` integer NOT NULL,
	`decide_at` real,
	`rest_wording` integer,
	`seed` integer NOT NULL,
	`revision` integer NOT NULL,
	`created_at` integer NOT NULL,
	`started_at` integer
);
--> statement-breakpoint
CREATE TABLE `round_member` (
	`message_id` integer PRIMARY KEY NOT NULL,
	`position` integer NOT NULL,
	`wording` integer NOT NULL,
	`is_rest` integer DEFAULT false NOT NULL,
	`columns` text NOT NULL,
	`filled_revision` integer NOT NULL,
	`left_out` integer DEFAULT false NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `message` ADD `round_id` integer REFERENCES round(id) ON DELETE set null;--> statement-breakpoint
CREATE INDEX `message_subject` ON `message` (`subject`) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_round` ON `message` (`round_id`,`state`,`send_at`) WHERE "message"."round_id" is not null;