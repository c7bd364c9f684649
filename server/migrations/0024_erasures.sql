CREATE TABLE `erasure` (
	`mark` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL
);
