-- The summary of a technique tells the titles of its checkpoints: it is made again where it is missing.
UPDATE "techniques" SET "summary" = NULL;
