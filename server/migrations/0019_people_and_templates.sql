CREATE TABLE `person_tag` (
	`person_id` integer NOT NULL,
	`tag` text NOT NULL,
	PRIMARY KEY(`person_id`, `tag`),
	FOREIGN KEY (`person_id`) REFERENCES `person`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `person_tag_tag` ON `person_tag` (`tag`);--> statement-breakpoint
DROP INDEX `copy_person`;--> statement-breakpoint
ALTER TABLE `copy` ADD `last_reply_at` integer;--> statement-breakpoint
CREATE INDEX `copy_replied` ON `copy` (`person_id`,`last_reply_at`) WHERE "copy"."last_reply_at" is not null;--> statement-breakpoint
CREATE INDEX `copy_person` ON `copy` (`person_id`,`sent_at`);--> statement-breakpoint
ALTER TABLE `message` ADD `last_reply_at` integer;--> statement-breakpoint
ALTER TABLE `person` ADD `last_contact_at` integer;--> statement-breakpoint
CREATE INDEX `person_last_contact` ON `person` (`last_contact_at`);--> statement-breakpoint
ALTER TABLE `template` ADD `files` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `template` ADD `folder` text DEFAULT '' NOT NULL;--> statement-breakpoint
UPDATE `copy` SET `last_reply_at` = (
	SELECT max(`at`) FROM `event` WHERE `event`.`message_id` = `copy`.`message_id` AND `event`.`copy_id` = `copy`.`id` AND `kind` = 'replied' AND `counted`
) WHERE `replied_at` IS NOT NULL;--> statement-breakpoint
UPDATE `message` SET `last_reply_at` = (
	SELECT max(`at`) FROM `event` WHERE `event`.`message_id` = `message`.`id` AND `kind` = 'replied' AND `counted`
) WHERE `replied_at` IS NOT NULL;--> statement-breakpoint
UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0)
		), 0)
	);--> statement-breakpoint
CREATE TRIGGER `person_contact_insert` AFTER INSERT ON `copy`
WHEN new.`sent_at` IS NOT NULL OR new.`last_reply_at` IS NOT NULL
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0)
		), 0)
	) WHERE `id` = new.`person_id`;
END;--> statement-breakpoint
CREATE TRIGGER `person_contact_update` AFTER UPDATE OF `sent_at`, `last_reply_at`, `person_id` ON `copy`
WHEN new.`sent_at` IS NOT old.`sent_at` OR new.`last_reply_at` IS NOT old.`last_reply_at` OR new.`person_id` <> old.`person_id`
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0)
		), 0)
	) WHERE `id` IN (old.`person_id`, new.`person_id`);
END;--> statement-breakpoint
CREATE TRIGGER `person_contact_delete` AFTER DELETE ON `copy`
BEGIN
	UPDATE `person` SET `last_contact_at` = (
		SELECT nullif(max(
			coalesce((SELECT max(`sent_at`) FROM `copy` WHERE `person_id` = `person`.`id`), 0),
			coalesce((SELECT max(`last_reply_at`) FROM `copy` WHERE `person_id` = `person`.`id` AND `last_reply_at` IS NOT NULL), 0)
		), 0)
	) WHERE `id` = old.`person_id`;
END;
