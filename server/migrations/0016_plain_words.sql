ALTER TABLE `letter` RENAME TO `message_body`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `answers` TO `replies`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `set_aside` TO `not_counted`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `answered_at` TO `replied_at`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `track_links` TO `track_clicks`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `untracked` TO `untracked_reason`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `delivery_receipt` TO `request_dsn`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `read_receipt` TO `request_mdn`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `latest_at` TO `last_activity_at`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `shelf` TO `folder`;--> statement-breakpoint
ALTER TABLE `message` RENAME COLUMN `silenced_at` TO `muted_at`;--> statement-breakpoint
ALTER TABLE `copy` RENAME COLUMN `answers` TO `replies`;--> statement-breakpoint
ALTER TABLE `copy` RENAME COLUMN `set_aside` TO `not_counted`;--> statement-breakpoint
ALTER TABLE `copy` RENAME COLUMN `answered_at` TO `replied_at`;--> statement-breakpoint
ALTER TABLE `copy` RENAME COLUMN `trouble` TO `last_error`;--> statement-breakpoint
ALTER TABLE `copy` RENAME COLUMN `delivery_receipt` TO `dsn_state`;--> statement-breakpoint
ALTER TABLE `copy` RENAME COLUMN `read_receipt` TO `mdn_state`;--> statement-breakpoint
ALTER TABLE `person` RENAME COLUMN `firm` TO `company`;--> statement-breakpoint
ALTER TABLE `person` RENAME COLUMN `silenced_at` TO `muted_at`;--> statement-breakpoint
ALTER TABLE `person` RENAME COLUMN `put_off_until` TO `snoozed_until`;--> statement-breakpoint
ALTER TABLE `person` RENAME COLUMN `dismissed_at` TO `resolved_at`;--> statement-breakpoint
ALTER TABLE `push_device` RENAME COLUMN `told_at` TO `notified_at`;--> statement-breakpoint
ALTER TABLE `template` RENAME COLUMN `removed_at` TO `deleted_at`;--> statement-breakpoint
ALTER TABLE `file` RENAME COLUMN `removed_at` TO `deleted_at`;--> statement-breakpoint
ALTER TABLE `file_version` RENAME COLUMN `trouble` TO `problem`;--> statement-breakpoint
ALTER TABLE `event` RENAME COLUMN `mine` TO `own_device`;--> statement-breakpoint
ALTER TABLE `event` RENAME COLUMN `unwilling` TO `dnt`;--> statement-breakpoint
ALTER TABLE `event` RENAME COLUMN `rings` TO `notifies`;--> statement-breakpoint
ALTER TABLE `event` RENAME COLUMN `by_hand` TO `override`;--> statement-breakpoint
ALTER TABLE `reminder` RENAME COLUMN `mails` TO `by_email`;--> statement-breakpoint
ALTER TABLE `reminder` RENAME COLUMN `words` TO `reason`;--> statement-breakpoint
ALTER TABLE `reminder` RENAME COLUMN `unmailed` TO `email_pending`;--> statement-breakpoint
ALTER TABLE `plan` RENAME COLUMN `words` TO `reason`;--> statement-breakpoint
ALTER TABLE `plan_step` RENAME COLUMN `words` TO `reason`;--> statement-breakpoint
DROP INDEX `message_unseen`;--> statement-breakpoint
CREATE INDEX `message_no_sign` ON `message` (`folder`,`last_activity_at`,`state`,`sent_at`,`queued_at`,`send_at`,`track_opens`,`track_clicks`,`untracked_reason`,`template_id`,(note <> ''),`opens`,`clicks`,`file_views`,`replies`) WHERE opens = 0 and clicks = 0 and file_views = 0 and replies = 0;--> statement-breakpoint
UPDATE `message` SET `folder` = 'deleted' WHERE `folder` = 'removed';--> statement-breakpoint
UPDATE `event` SET `kind` = 'replied' WHERE `kind` = 'answered';--> statement-breakpoint
UPDATE `event` SET `reason` = CASE `reason`
	WHEN 'myself' THEN 'own-device'
	WHEN 'unwilling' THEN 'dnt'
	WHEN 'no-look' THEN 'not-get'
	WHEN 'ahead' THEN 'image-proxy'
	WHEN 'hosted' THEN 'data-centre'
	WHEN 'sweep' THEN 'many-links'
	WHEN 'crowd' THEN 'burst'
	WHEN 'by-hand' THEN 'override'
	WHEN 'machine-answer' THEN 'automatic-reply'
	WHEN 'perhaps-machine' THEN 'perhaps-automatic'
	ELSE `reason` END
WHERE `reason` IS NOT NULL;--> statement-breakpoint
UPDATE `incoming` SET `kind` = CASE `kind` WHEN 'answer' THEN 'reply' WHEN 'delivery' THEN 'dsn' WHEN 'receipt' THEN 'mdn' ELSE `kind` END;--> statement-breakpoint
UPDATE `reminder` SET `state` = 'resolved' WHERE `state` = 'settled';--> statement-breakpoint
UPDATE `reminder` SET `condition` = CASE `condition` WHEN 'unanswered' THEN 'not-replied' WHEN 'unopened' THEN 'not-opened' WHEN 'unfollowed' THEN 'not-clicked' ELSE `condition` END;--> statement-breakpoint
UPDATE `reminder` SET `reason` = 'Replied' WHERE `reason` = 'Answered';--> statement-breakpoint
UPDATE `plan` SET `reason` = 'Replied' WHERE `reason` = 'Answered';--> statement-breakpoint
UPDATE `plan_step` SET `reason` = 'Replied' WHERE `reason` = 'Answered';--> statement-breakpoint
UPDATE `plan_step` SET `condition` = CASE `condition` WHEN 'unanswered' THEN 'not-replied' WHEN 'unopened' THEN 'not-opened' WHEN 'unfollowed' THEN 'not-clicked' ELSE `condition` END;--> statement-breakpoint
UPDATE `message` SET `reminder` = replace(replace(replace(replace(`reminder`, '"condition":"unanswered"', '"condition":"not-replied"'), '"condition":"unopened"', '"condition":"not-opened"'), '"condition":"unfollowed"', '"condition":"not-clicked"'), '"mails":', '"byEmail":') WHERE `reminder` IS NOT NULL;--> statement-breakpoint
UPDATE `template` SET `reminder` = replace(replace(replace(replace(`reminder`, '"condition":"unanswered"', '"condition":"not-replied"'), '"condition":"unopened"', '"condition":"not-opened"'), '"condition":"unfollowed"', '"condition":"not-clicked"'), '"mails":', '"byEmail":') WHERE `reminder` IS NOT NULL;--> statement-breakpoint
UPDATE `message` SET `plan` = replace(replace(replace(`plan`, '"condition":"unanswered"', '"condition":"not-replied"'), '"condition":"unopened"', '"condition":"not-opened"'), '"condition":"unfollowed"', '"condition":"not-clicked"') WHERE `plan` IS NOT NULL;--> statement-breakpoint
UPDATE `setting` SET `key` = 'notifications' || substr(`key`, 8) WHERE `key` = 'notices' OR `key` LIKE 'notices.%';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(replace(replace(replace(replace(`value`, '"rings":', '"channels":'), '"quietUntil":', '"mutedUntil":'), '"answered":', '"replied":'), '"system"', '"desktop","push"'), '"mail"', '"email"') WHERE `key` = 'notifications';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(replace(replace(replace(`value`, '"respectWish":', '"respectDnt":'), '"ringForDays":', '"notifyForDays":'), '"colleagues":"quiet"', '"colleagues":"muted"'), '"colleagues":"aside"', '"colleagues":"not-counted"') WHERE `key` = 'judging';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(`value`, '"takeBackSeconds":', '"undoSendSeconds":') WHERE `key` = 'sending';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(`value`, '"mostBytes":', '"maxBytes":') WHERE `key` = 'files';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(`value`, '"unwanted":', '"unmatched":') WHERE `key` = 'mailbox';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(replace(replace(`value`, '"trackLinks":', '"trackClicks":'), '"deliveryReceipt":', '"requestDsn":'), '"readReceipt":', '"requestMdn":') WHERE `key` = 'writing.defaults';--> statement-breakpoint
UPDATE `setting` SET `value` = replace(`value`, '"firm":', '"company":') WHERE `key` = 'people.import';--> statement-breakpoint
UPDATE `template` SET `html` = replace(replace(`html`, '{{firm', '{{company'), '{{ firm', '{{ company'), `subject` = replace(replace(`subject`, '{{firm', '{{company'), '{{ firm', '{{ company');--> statement-breakpoint
UPDATE `signature` SET `html` = replace(replace(`html`, '{{firm', '{{company'), '{{ firm', '{{ company');--> statement-breakpoint
UPDATE `message_body` SET `html` = replace(replace(`html`, '{{firm', '{{company'), '{{ firm', '{{ company') WHERE `message_id` IN (SELECT `id` FROM `message` WHERE `state` IN ('draft', 'scheduled'));--> statement-breakpoint
UPDATE `message` SET `subject` = replace(replace(`subject`, '{{firm', '{{company'), '{{ firm', '{{ company') WHERE `state` IN ('draft', 'scheduled');--> statement-breakpoint
UPDATE `saved_view` SET `query` = replace(replace(replace(replace('&' || `query`, '&order=', '&sort='), '&rising=true', '&direction=asc'), '&rising=false', ''), '&firm=', '&company=');--> statement-breakpoint
UPDATE `saved_view` SET `query` = replace(replace(replace(replace(`query`, '&sort=latest', '&sort=lastActivity'), '&sort=wait', '&sort=timeToOpen'), '&sort=answer', '&sort=timeToReply'), '&sort=match', '&sort=relevance');--> statement-breakpoint
UPDATE `saved_view` SET `query` = substr(replace(replace(replace(replace(`query`, '&show=unseen', '&show=no-sign'), '&show=unanswered', '&show=not-replied'), '&show=answered', '&show=replied'), '&show=untracked', '&show=not-tracked'), 2);--> statement-breakpoint
DROP TABLE `message_text`;--> statement-breakpoint
CREATE VIRTUAL TABLE `message_text` USING fts5(`subject`, `people`, `body`, `note`, tokenize = "unicode61 remove_diacritics 2", prefix = '2 3');--> statement-breakpoint
INSERT INTO `message_text` (`message_text`, `rank`) VALUES ('secure-delete', 1);--> statement-breakpoint
DELETE FROM `setting` WHERE `key` = 'search.takenIn';
