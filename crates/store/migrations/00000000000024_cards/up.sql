-- When the link of a card was copied to be sent, when its member opened it last, and when it was put on paper.
ALTER TABLE bookings ADD COLUMN card_sent_at timestamptz, ADD COLUMN card_opened_at timestamptz, ADD COLUMN card_paper_at timestamptz;
