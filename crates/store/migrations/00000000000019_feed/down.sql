DROP TABLE feed_events;
DROP TABLE feeds;
