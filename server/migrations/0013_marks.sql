DROP INDEX `event_message_at`;--> statement-breakpoint
CREATE INDEX `event_message_at` ON `event` (`message_id`,`at`,`kind`,`counted`,`link_id`,`sent_file_id`,`incoming_id`);