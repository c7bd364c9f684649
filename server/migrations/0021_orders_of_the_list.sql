CREATE INDEX `link_followed` ON `link` (`text`,`message_id`) WHERE clicks > 0;--> statement-breakpoint
CREATE INDEX `message_sent` ON `message` (`folder`,coalesce(sent_at, send_at, queued_at)) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_opens` ON `message` (`folder`,`opens`) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_clicks` ON `message` (`folder`,`clicks`) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_file_views` ON `message` (`folder`,`file_views`) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_first_open` ON `message` (`folder`,`first_open_at`) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_last_open` ON `message` (`folder`,`last_open_at`) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_time_to_open` ON `message` (`folder`,(first_open_at - sent_at)) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_time_to_reply` ON `message` (`folder`,(replied_at - sent_at)) WHERE last_activity_at > 0;--> statement-breakpoint
CREATE INDEX `message_replied` ON `message` (`folder`) WHERE last_activity_at > 0 and replies > 0;--> statement-breakpoint
CREATE INDEX `message_not_tracked` ON `message` (`folder`) WHERE last_activity_at > 0 and not ((track_opens or track_clicks) and untracked_reason is null) and state <> 'scheduled';--> statement-breakpoint
CREATE INDEX `message_noted` ON `message` (`folder`) WHERE last_activity_at > 0 and (note <> '');