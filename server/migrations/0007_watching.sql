CREATE TABLE `saved_view` (
	`id` integer PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`query` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `saved_view_name_unique` ON `saved_view` (`name`);--> statement-breakpoint
DROP INDEX `message_latest`;--> statement-breakpoint
ALTER TABLE `message` ADD `shelf` text;--> statement-breakpoint
ALTER TABLE `message` ADD `silenced_at` integer;--> statement-breakpoint
CREATE INDEX `message_list` ON `message` (`shelf`,`latest_at`,`state`,`opens`,`clicks`,`file_views`,`answers`,`sent_at`,`queued_at`,`send_at`,`first_open_at`,`last_open_at`,`answered_at`,`track_opens`,`track_links`,`untracked`,`template_id`,(note <> ''));--> statement-breakpoint
ALTER TABLE `person` ADD `phone` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `note` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `silenced_at` integer;--> statement-breakpoint
ALTER TABLE `person` ADD `put_off_until` integer;--> statement-breakpoint
ALTER TABLE `person` ADD `dismissed_at` integer;
--> statement-breakpoint
CREATE VIRTUAL TABLE `message_text` USING fts5(`subject`, `people`, `letter`, `note`, tokenize = "unicode61 remove_diacritics 2", prefix = '2 3');
--> statement-breakpoint
INSERT INTO `message_text` (`message_text`, `rank`) VALUES ('secure-delete', 1);
