CREATE TABLE `network` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`prefix` text NOT NULL,
	`filter` real DEFAULT 0 NOT NULL,
	`people` real DEFAULT 0 NOT NULL,
	`at` integer NOT NULL,
	`named_as` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `network_prefix_unique` ON `network` (`prefix`);--> statement-breakpoint
CREATE INDEX `network_at` ON `network` (`at`);--> statement-breakpoint
CREATE TABLE `opt_out_visit` (
	`copy_id` integer NOT NULL,
	`network` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`copy_id`, `network`),
	FOREIGN KEY (`copy_id`) REFERENCES `copy`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `opt_out_visit_at` ON `opt_out_visit` (`at`);--> statement-breakpoint
ALTER TABLE `copy` ADD `uncertain_opens` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `copy` ADD `uncertain_clicks` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `copy` ADD `uncertain_views` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `event` ADD `likelihood` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `evidence` text;--> statement-breakpoint
ALTER TABLE `event` ADD `network_id` integer;--> statement-breakpoint
ALTER TABLE `event` ADD `lesson` text;--> statement-breakpoint
CREATE INDEX `event_network` ON `event` (`network_id`,`at`) WHERE network_id is not null;--> statement-breakpoint
ALTER TABLE `message` ADD `uncertain_opens` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `uncertain_clicks` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `message` ADD `uncertain_views` integer DEFAULT 0 NOT NULL;