ALTER TABLE `template` ADD `files` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `template` ADD `folder` text DEFAULT '' NOT NULL;