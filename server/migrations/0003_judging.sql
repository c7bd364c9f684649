ALTER TABLE `change` ADD `event_id` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `method` text;--> statement-breakpoint
ALTER TABLE `event` ADD `purpose` text;--> statement-breakpoint
ALTER TABLE `event` ADD `mine` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `event` ADD `unwilling` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `event` ADD `hosted` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `event` ADD `place` text;--> statement-breakpoint
ALTER TABLE `event` ADD `rings` integer DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE `event` ADD `by_hand` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `times` integer DEFAULT 1 NOT NULL;