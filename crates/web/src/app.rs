//! The server: what every request shares, and how it is started.

use crate::clocks::Clocks;
use crate::day::on_clock;
use crate::error::WebError;
use crate::frame::Bare;
use crate::learners::Learners;
use crate::metrics::Metrics;
use crate::plan_cache::PlanCache;
use crate::post::Office;
use crate::{error, routes, session};
use actix_session::SessionMiddleware;
use actix_session::config::{CookieContentSecurity, PersistentSession};
use actix_session::storage::CookieSessionStore;
use actix_web::body::{BoxBody, MessageBody};
use actix_web::cookie::{Key, SameSite, time::Duration};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::{Compress, DefaultHeaders, Next, from_fn};
use actix_web::{App as ActixApp, HttpServer, web};
use chrono::{DateTime, NaiveDateTime, Utc};
use chrono_tz::Tz;
use lantern_store::Pool;
use std::net::{IpAddr, TcpListener};
use std::sync::Arc;
use std::time::Instant;
use tokio::sync::Semaphore;

/// Scripts and styles come from here only; style attributes place blocks on the scales, nothing else is inline.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

/// How the server runs.
#[derive(Clone)]
pub struct Config {
    /// 64 bytes or more that sign the cookies.
    pub secret: Vec<u8>,
    /// Send cookies over TLS only.
    pub secure_cookies: bool,
    /// How letters are sent; none: links are given by hand.
    pub office: Option<Office>,
    /// Addresses whose word about who asks is believed: proxies in front of it.
    pub trusted_proxies: Vec<IpAddr>,
    /// What time it is; tests stop it.
    pub now: fn() -> DateTime<Utc>,
    /// Zone of halls that name none.
    pub zone: Tz,
    /// The code by which the first hall is set up; none where there was a hall at the start.
    pub set_up_code: Option<String>,
}

impl Config {
    /// A secure cookie is held to this very host by its name.
    fn cookie_name(&self) -> &'static str {
        if self.secure_cookies { "__Host-lantern" } else { "lantern" }
    }
}

/// What every request shares.
#[derive(Clone)]
pub struct App {
    /// Connections.
    pub pool: Pool,
    /// Plans made lately: may vanish at any time.
    pub plans: Arc<PlanCache>,
    /// What halls have learnt: may vanish at any time.
    pub learners: Arc<Learners>,
    /// Walls in step.
    pub clocks: Arc<Clocks>,
    /// What it counts about itself.
    pub metrics: Arc<Metrics>,
    /// How letters are sent.
    pub office: Option<Office>,
    /// Addresses whose word about who asks is believed.
    pub trusted_proxies: Arc<[IpAddr]>,
    /// Turns for hashing passwords.
    pub hashing: Arc<Semaphore>,
    /// The code by which the first hall is set up.
    pub set_up_code: Option<String>,
    /// What time it is.
    pub now: fn() -> DateTime<Utc>,
    /// Zone of halls that name none.
    pub zone: Tz,
}

impl App {
    /// What the clock of a hall in a zone shows, whatever the server's zone is.
    pub fn local(&self, zone: Option<Tz>) -> NaiveDateTime {
        on_clock(&(self.now)(), zone.unwrap_or(self.zone))
    }
}

/// Passwords hashed at a time.
const MOST_HASHING: usize = 2;
/// Seconds for the body of a request.
const BODY_S: u64 = 15;
/// Longest wait for the head of a request, s.
const HEAD_S: u64 = 10;

/// Longest wait for answers under way when the server is told to stop, s.
const STOP_S: u64 = 5;

/// Serves on a listener until the process is told to stop.
///
/// # Errors
/// When the secret is too short or the listener cannot be used.
pub async fn serve(listener: TcpListener, pool: Pool, config: Config) -> std::io::Result<()> {
    if config.secret.len() < 64 {
        return Err(std::io::Error::other("the cookie secret is shorter than 64 bytes; make a longer one"));
    }
    let key = Key::derive_from(&config.secret);
    let (metrics, counts) = Metrics::new().map_err(std::io::Error::other)?;
    let app = App {
        clocks: Clocks::listening(pool.clone()),
        pool,
        plans: Arc::new(PlanCache::new(counts)),
        metrics: Arc::new(metrics),
        learners: Arc::default(),
        office: config.office.clone(),
        trusted_proxies: config.trusted_proxies.clone().into(),
        hashing: Arc::new(Semaphore::new(MOST_HASHING)),
        set_up_code: config.set_up_code.clone(),
        now: config.now,
        zone: config.zone,
    };
    HttpServer::new(move || {
        let cookies = SessionMiddleware::builder(CookieSessionStore::default(), key.clone())
            .cookie_name(config.cookie_name().to_owned())
            .cookie_same_site(SameSite::Lax)
            .cookie_http_only(true)
            .cookie_secure(config.secure_cookies)
            .cookie_content_security(CookieContentSecurity::Private)
            .session_lifecycle(PersistentSession::default().session_ttl(Duration::days(14)))
            .build();
        ActixApp::new()
            .app_data(web::Data::new(app.clone()))
            .app_data(web::QueryConfig::default().error_handler(|_, _| WebError::NoPage.into()))
            .app_data(web::PayloadConfig::new(session::MOST_BODY))
            .wrap(from_fn(session::deeds::kept))
            .wrap(from_fn(methods))
            .wrap(from_fn(body_in_time))
            .wrap(cookies)
            .wrap(Compress::default())
            .wrap(headers(&config))
            .wrap(tracing_log())
            .wrap(from_fn(counted))
            .configure(routes::routes)
            .default_service(web::to(error::no_page))
    })
    // a small answer is sent when it is made, not when more would fill its packet
    .tcp_nodelay(true)
    // who closes their side of the line waits for no answer: what was begun for them alone is given up
    .h1_allow_half_closed(false)
    .client_request_timeout(std::time::Duration::from_secs(HEAD_S))
    // walls are told without end: they come back by themselves
    .shutdown_timeout(STOP_S)
    .listen(listener)?
    .workers(2)
    .run()
    .await
}

/// Reads a body as a whole, or ends a request whose body never does: a form is sent in seconds.
async fn body_in_time(
    mut request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    if *request.method() != Method::POST {
        return next.call(request).await.map(ServiceResponse::map_into_left_body);
    }
    let whole = request.extract::<web::Bytes>();
    let wrong = match tokio::time::timeout(std::time::Duration::from_secs(BODY_S), whole).await {
        Ok(Ok(body)) => {
            request.set_payload(actix_web::dev::Payload::from(body));
            None
        }
        Ok(Err(e)) => {
            Some((WebError::Unreadable(e.to_string()).to_string(), StatusCode::UNPROCESSABLE_ENTITY))
        }
        Err(_) => {
            let words = "What was sent did not arrive whole. Go back and send it again.";
            Some((words.to_owned(), StatusCode::REQUEST_TIMEOUT))
        }
    };
    if let Some((words, status)) = wrong {
        let page = Bare::message("This did not work", &words).page(status);
        return Ok(request.into_response(page).map_into_right_body());
    }
    next.call(request).await.map(ServiceResponse::map_into_left_body)
}

/// Headers of every answer that does not say otherwise: pages have people in them, so no cache keeps them.
fn headers(config: &Config) -> DefaultHeaders {
    let all = DefaultHeaders::new()
        .add(("Content-Security-Policy", POLICY))
        .add(("X-Content-Type-Options", "nosniff"))
        .add(("Referrer-Policy", "same-origin"))
        .add(("X-Frame-Options", "DENY"))
        .add(("X-Robots-Tag", "noindex, nofollow"))
        .add(("Cache-Control", "no-store"));
    // a year; only where the proxy in front speaks TLS
    if config.secure_cookies { all.add(("Strict-Transport-Security", "max-age=31536000")) } else { all }
}

/// Counts an answer.
async fn counted(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let metrics = request.app_data::<web::Data<App>>().map(|app| Arc::clone(&app.metrics));
    let from = Instant::now();
    let answer = next.call(request).await;
    let status = match &answer {
        Ok(a) => a.status(),
        Err(e) => e.as_response_error().status_code(),
    };
    if let Some(metrics) = metrics {
        metrics.answers.with_label_values(&[&format!("{}xx", status.as_u16() / 100)]).inc();
        metrics.answer_s.observe(from.elapsed().as_secs_f64());
    }
    answer
}

/// `HEAD` is answered like `GET`, without the body; what an address does not take is said with what it takes.
async fn methods(
    mut request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, actix_web::Error> {
    let asked = request.method().clone();
    if asked == Method::HEAD {
        request.head_mut().method = Method::GET;
    }
    let answer = next.call(request).await?;
    if answer.status() == StatusCode::METHOD_NOT_ALLOWED {
        return Ok(answer.into_response(error::not_so(&asked)));
    }
    if asked == Method::HEAD {
        return Ok(answer.map_body(|_, _| BoxBody::new(actix_web::body::None::new())));
    }
    Ok(answer.map_into_boxed_body())
}

/// Whoever has a link to join or to a card may use it, so these stand in no log.
fn tracing_log() -> actix_web::middleware::Logger {
    actix_web::middleware::Logger::new("%s %r %Dms").exclude_regex("^/(static|join|card|mine)/")
}
