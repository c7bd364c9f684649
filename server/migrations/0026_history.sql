CREATE TABLE `history_import` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` integer NOT NULL,
	`source` text NOT NULL,
	`with_messages` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `history_message` (
	`message_id` integer PRIMARY KEY NOT NULL,
	`import_id` integer NOT NULL,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`import_id`) REFERENCES `history_import`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `history_message_import` ON `history_message` (`import_id`);--> statement-breakpoint
CREATE TABLE `history_person` (
	`import_id` integer NOT NULL,
	`person_id` integer NOT NULL,
	`is_new` integer NOT NULL,
	`messages` integer NOT NULL,
	`last_contact_at` integer NOT NULL,
	PRIMARY KEY(`import_id`, `person_id`),
	FOREIGN KEY (`import_id`) REFERENCES `history_import`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `history_person_person` ON `history_person` (`person_id`);--> statement-breakpoint
ALTER TABLE `person` ADD `earlier_messages` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `person` ADD `earlier_contact_at` integer;--> statement-breakpoint
DROP TRIGGER `person_contact_insert`;--> statement-breakpoint
DROP TRIGGER `person_contact_update`;--> statement-breakpoint
DROP TRIGGER `person_contact_delete`;--> statement-breakpoint
CREATE TRIGGER `person_contact_insert` AFTER INSERT ON `copy`
WHEN new.`sent_at` IS NOT NULL OR new.`last_reply_at` IS NOT NULL
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0),
			coalesce(`person`.`earlier_contact_at`, 0)
		), 0)
	) WHERE `id` = new.`person_id`;
END;--> statement-breakpoint
CREATE TRIGGER `person_contact_update` AFTER UPDATE OF `sent_at`, `last_reply_at`, `person_id` ON `copy`
WHEN new.`sent_at` IS NOT old.`sent_at` OR new.`last_reply_at` IS NOT old.`last_reply_at` OR new.`person_id` <> old.`person_id`
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0),
			coalesce(`person`.`earlier_contact_at`, 0)
		), 0)
	) WHERE `id` IN (old.`person_id`, new.`person_id`);
END;--> statement-breakpoint
CREATE TRIGGER `person_contact_delete` AFTER DELETE ON `copy`
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0),
			coalesce(`person`.`earlier_contact_at`, 0)
		), 0)
	) WHERE `id` = old.`person_id`;
END;--> statement-breakpoint
CREATE TRIGGER `person_contact_earlier` AFTER UPDATE OF `earlier_contact_at` ON `person`
WHEN new.`earlier_contact_at` IS NOT old.`earlier_contact_at`
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0),
			coalesce(new.`earlier_contact_at`, 0)
		), 0)
	) WHERE `id` = new.`id`;
END;
