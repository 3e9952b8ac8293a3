-- Files could bring instants that no calendar has; pages that read them broke. Such a listing goes with its show again.
UPDATE "show_destination" SET "slot" = '{"kind":"with_show"}'
  WHERE "slot"->>'kind' = 'fixed' AND NOT ("slot"->>'atMs')::numeric BETWEEN 0 AND 253402300799999;--> statement-breakpoint
UPDATE "listing_off" SET "slot" = '{"kind":"with_show"}'
  WHERE "slot"->>'kind' = 'fixed' AND NOT ("slot"->>'atMs')::numeric BETWEEN 0 AND 253402300799999;
