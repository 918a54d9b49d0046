//! Walls in step: one connection of the process hears of every clock that any process changes, and tells the walls that are open.

use crate::error::WebError;
use actix_web::web::Bytes;
use chrono::{DateTime, Utc};
use futures_util::stream::{Stream, unfold};
use lantern_core::hour::WallClock;
use lantern_store::clock::{Listener, Told, Wall};
use lantern_store::{ClassId, GymId, Pool, StoreError};
use serde_json::{Value, json};
use std::sync::{Arc, Weak};
use std::time::{Duration, Instant};
use tokio::sync::broadcast::error::RecvError;
use tokio::sync::broadcast::{Receiver, Sender, channel};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

/// How often it is looked whether somebody told of a clock.
const LOOK: Duration = Duration::from_millis(40);
/// How often the connection is tried when nobody does, and how long it is waited for a lost one.
const CHECK: Duration = Duration::from_secs(20);
const AGAIN: Duration = Duration::from_secs(2);
/// Changes that a slow wall may be behind; one further behind asks for the clock anew.
const BEHIND: usize = 64;
/// Walls that are told at a time, and for how long before they sign in again.
const MOST_WALLS: usize = 300;
const LONGEST: Duration = Duration::from_secs(3600);
/// A line is sent at least so often: a lost connection is noticed.
const BEAT: Duration = Duration::from_secs(10);

/// Everybody who wants to know of clocks.
pub struct Clocks {
    told: Sender<Told>,
    walls: Arc<Semaphore>,
}

impl Clocks {
    /// Begins to listen, as long as somebody keeps it.
    pub fn listening(pool: Pool) -> Arc<Clocks> {
        let clocks =
            Arc::new(Clocks { told: channel(BEHIND).0, walls: Arc::new(Semaphore::new(MOST_WALLS)) });
        let weak = Arc::downgrade(&clocks);
        std::thread::spawn(move || {
            while weak.strong_count() > 0 {
                if let Err(why) = listen(&pool, &weak) {
                    tracing::warn!("clocks are not heard of, trying again: {why}");
                    std::thread::sleep(AGAIN);
                }
            }
        });
        clocks
    }

    /// Walls that are told of a clock.
    pub fn open(&self) -> usize {
        MOST_WALLS - self.walls.available_permits()
    }

    /// What a wall is told of one clock from now on.
    ///
    /// # Errors
    /// When too many walls are open.
    pub fn follow(&self, gym: GymId, class: ClassId) -> Result<Following, WebError> {
        let place = Arc::clone(&self.walls).try_acquire_owned();
        let place = place.map_err(|_| WebError::Store(StoreError::Away("too many walls".to_owned())))?;
        Ok(Following {
            told: self.told.subscribe(),
            gym,
            class,
            until: Instant::now() + LONGEST,
            _place: place,
        })
    }
}

fn listen(pool: &Pool, clocks: &Weak<Clocks>) -> lantern_store::Result<()> {
    let mut listener = Listener::new(pool)?;
    let mut checked = Instant::now();
    loop {
        let Some(clocks) = clocks.upgrade() else { return Ok(()) };
        for told in listener.told()? {
            // nobody may be listening
            let _ = clocks.told.send(told);
        }
        drop(clocks);
        if checked.elapsed() > CHECK {
            listener.check()?;
            checked = Instant::now();
        }
        std::thread::sleep(LOOK);
    }
}

/// A clock as walls read it at a moment: moments in ms since 1970, the part that is shown (empty before the class).
pub fn shown(stage: Option<&str>, clock: WallClock, now: DateTime<Utc>) -> Value {
    let ms = |t: DateTime<Utc>| t.timestamp_millis();
    json!({ "started": clock.started.map(ms), "paused": clock.paused.map(ms), "now": ms(now), "stage": stage.unwrap_or_default() })
}

/// A wall that is told of a clock.
pub struct Following {
    told: Receiver<Told>,
    gym: GymId,
    class: ClassId,
    until: Instant,
    /// Given back when the wall is left.
    _place: OwnedSemaphorePermit,
}

impl Following {
    /// Events for the wall: the clock as it is, then each change; a line without one in between.
    pub fn events(self, now: Wall) -> impl Stream<Item = Result<Bytes, std::convert::Infallible>> {
        unfold((self, Some(now)), |(mut wall, first)| async move {
            let told = match first {
                Some(now) => Some((now.stage, now.clock)),
                None => wall.next().await?,
            };
            Some((Ok(event(told)), (wall, None)))
        })
    }

    /// The next change; `Some(None)`: none came for a while; `None`: the wall shall ask anew.
    async fn next(&mut self) -> Option<Option<(Option<String>, WallClock)>> {
        loop {
            if Instant::now() > self.until {
                return None;
            }
            match tokio::time::timeout(BEAT, self.told.recv()).await {
                Err(_) => return Some(None),
                Ok(Ok(t)) if (t.gym, t.class) == (self.gym, self.class) => {
                    return Some(Some((t.stage, t.clock)));
                }
                Ok(Ok(_)) => {}
                Ok(Err(RecvError::Lagged(_) | RecvError::Closed)) => return None,
            }
        }
    }
}

fn event(told: Option<(Option<String>, WallClock)>) -> Bytes {
    match told {
        None => Bytes::from_static(b"event: beat\ndata: \n\n"),
        Some((stage, clock)) => {
            Bytes::from(format!("data: {}\n\n", shown(stage.as_deref(), clock, Utc::now())))
        }
    }
}
