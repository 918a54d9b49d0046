ALTER TABLE bookings DROP COLUMN card_sent_at, DROP COLUMN card_opened_at, DROP COLUMN card_paper_at;
