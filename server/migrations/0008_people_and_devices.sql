CREATE TABLE `push_device` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`endpoint` text NOT NULL,
	`p256dh` text NOT NULL,
	`auth` text NOT NULL,
	`created_at` integer NOT NULL,
	`told_at` integer
);
--> statement-breakpoint
CREATE UNIQUE INDEX `push_device_endpoint_unique` ON `push_device` (`endpoint`);--> statement-breakpoint
ALTER TABLE `person` ADD `zone` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `merged_into` integer;