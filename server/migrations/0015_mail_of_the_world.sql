CREATE TABLE `refused_mail` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`at` integer NOT NULL,
	`way` text NOT NULL,
	`from_address` text NOT NULL,
	`to_address` text NOT NULL,
	`subject` text NOT NULL,
	`problem` text NOT NULL,
	`raw` blob
);
--> statement-breakpoint
PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_incoming` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`identity` text NOT NULL,
	`kind` text NOT NULL,
	`at` integer NOT NULL,
	`message_id` integer NOT NULL,
	`copy_id` integer,
	`message_id_header` text,
	`from_name` text NOT NULL,
	`from_address` text NOT NULL,
	`subject` text NOT NULL,
	`words` text NOT NULL,
	`doubt` text,
	`verdict` text,
	`html` text NOT NULL,
	`problem` text,
	FOREIGN KEY (`message_id`) REFERENCES `message`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
INSERT INTO `__new_incoming`("id", "identity", "kind", "at", "message_id", "copy_id", "message_id_header", "from_name", "from_address", "subject", "words", "doubt", "verdict", "html", "problem") SELECT "id", "identity", "kind", "at", "message_id", "copy_id", "message_id_header", "from_name", "from_address", "subject", "words", "doubt", "verdict", "html", "problem" FROM `incoming`;--> statement-breakpoint
DROP TABLE `incoming`;--> statement-breakpoint
ALTER TABLE `__new_incoming` RENAME TO `incoming`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `incoming_identity_unique` ON `incoming` (`identity`);--> statement-breakpoint
CREATE INDEX `incoming_message` ON `incoming` (`message_id`);--> statement-breakpoint
ALTER TABLE `message` ADD `removed_fields` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `outbox` ADD `dsn` text;--> statement-breakpoint
ALTER TABLE `outbox` ADD `pieces` text;