CREATE TABLE `letter` (
	`message_id` integer PRIMARY KEY NOT NULL,
	`html` text NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `message` ADD `track_for_days` integer;
--> statement-breakpoint
INSERT INTO `letter` (`message_id`, `html`) SELECT `id`, `html` FROM `message`;
