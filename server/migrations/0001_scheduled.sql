ALTER TABLE `message` ADD `send_at` integer;--> statement-breakpoint
CREATE INDEX `message_scheduled` ON `message` (`send_at`) WHERE state = 'scheduled';