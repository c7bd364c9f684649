CREATE TABLE `journal_position` (
	`run` text PRIMARY KEY NOT NULL,
	`segment` integer NOT NULL,
	`offset` integer NOT NULL,
	`sequence` integer NOT NULL
);
