-- Events of programmes and chats are in streams of their shows now. Pages read their lists afresh after an update.
DELETE FROM "event" WHERE "stream" IN ('relay', 'chat');--> statement-breakpoint
DELETE FROM "event_stream" WHERE "stream" IN ('relay', 'chat');
