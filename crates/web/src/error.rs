//! Failures into status and page: the only place that does.

use crate::frame::Bare;
use actix_web::http::header::{self, HeaderValue};
use actix_web::http::{Method, StatusCode};
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use lantern_core::people::Act;
use lantern_core::plan::Stopped;
use lantern_store::StoreError;
use thiserror::Error;

/// What can go wrong with a request, in sentences for people.
#[derive(Debug, Error)]
pub enum WebError {
    /// The page needs somebody who is signed in.
    #[error("Sign in to go on.")]
    SignInFirst(String),
    /// The password was right, and more is asked for: where, and where somebody was going.
    #[error("Sign in to go on.")]
    MoreFirst(&'static str, String),
    /// The same, told to a script.
    #[error("You were signed out. What you did waits here: sign in and it is sent.")]
    Expired,
    /// The same change arrived before.
    #[error("This was sent twice and is done once. Go back and look.")]
    Already {
        /// A script asked: it needs no page.
        script: bool,
    },
    /// The form is older than the sign-in, or comes from elsewhere.
    #[error(
        "This form is out of date. Go back, reload the page and send it again: what you typed is still there."
    )]
    Stale,
    /// Somebody who may not.
    #[error("Only {} of this hall may do this: {}. Ask them.", .0.who(), .0.words())]
    NotAllowed(Act),
    /// A link that is used once and does not count any more.
    #[error(
        "This link does not count any more: it was used, withdrawn, or is too old. Ask an owner of your hall for a new one."
    )]
    LinkOver,
    /// A link to a member's own page that opens nothing any more.
    #[error(
        "This link opens nothing any more: it was renewed, withdrawn, or is too old. Ask your coach for a new one."
    )]
    PageOver,
    /// A card of somebody whom the class is not planned for.
    #[error("You have no place in this class at the moment, so there is no card. Ask your coach.")]
    NoPlace,
    /// The address names nothing.
    #[error("There is no such page.")]
    NoPage,
    /// The body is too large or no form.
    #[error("This could not be read: {0}")]
    Unreadable(String),
    /// The store.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// Whoever asked has left: the answer reaches nobody.
    #[error("This was not worked out, because the page was left. Open it again.")]
    Left,
    /// A template or a thread failed.
    #[error("Something failed here: {0}. Nothing was changed.")]
    Failed(String),
}

/// Result of a handler.
pub type Page = Result<HttpResponse, WebError>;

impl From<askama::Error> for WebError {
    fn from(e: askama::Error) -> WebError {
        WebError::Failed(e.to_string())
    }
}

impl From<Stopped> for WebError {
    fn from(_: Stopped) -> WebError {
        WebError::Left
    }
}

impl From<actix_web::error::BlockingError> for WebError {
    fn from(e: actix_web::error::BlockingError) -> WebError {
        WebError::Failed(e.to_string())
    }
}

impl ResponseError for WebError {
    fn status_code(&self) -> StatusCode {
        match self {
            WebError::SignInFirst(_) | WebError::MoreFirst(..) => StatusCode::SEE_OTHER,
            WebError::Expired => StatusCode::UNAUTHORIZED,
            WebError::Already { script: true } => StatusCode::NO_CONTENT,
            WebError::Already { script: false } => StatusCode::OK,
            WebError::Stale | WebError::NotAllowed(_) => StatusCode::FORBIDDEN,
            WebError::NoPage
            | WebError::LinkOver
            | WebError::PageOver
            | WebError::NoPlace
            | WebError::Store(StoreError::NotFound) => StatusCode::NOT_FOUND,
            WebError::Store(StoreError::Raced | StoreError::Held) => StatusCode::CONFLICT,
            WebError::Unreadable(_)
            | WebError::Store(StoreError::Taken(_) | StoreError::Refused | StoreError::File(_)) => {
                StatusCode::UNPROCESSABLE_ENTITY
            }
            WebError::Store(StoreError::Away(_)) | WebError::Left => StatusCode::SERVICE_UNAVAILABLE,
            WebError::Store(StoreError::Failed(_)) | WebError::Failed(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let first = match self {
            WebError::SignInFirst(next) => Some(("/sign-in", next)),
            WebError::MoreFirst(at, next) => Some((*at, next)),
            _ => None,
        };
        if let Some((at, next)) = first {
            let next = serde_urlencoded::to_string([("next", next)]).unwrap_or_default();
            let query = if next == "next=" { String::new() } else { format!("?{next}") };
            return HttpResponse::SeeOther().insert_header(("Location", format!("{at}{query}"))).finish();
        }
        if matches!(self, WebError::Already { script: true }) {
            return HttpResponse::NoContent().finish();
        }
        if self.status_code().is_server_error() && !matches!(self, WebError::Left) {
            tracing::error!("{self}");
        }
        // addresses and what a driver says are for the log, not for a page
        let words = match self {
            WebError::Store(StoreError::Away(_)) => {
                "The database does not answer. Nothing was changed; go back and try again in a moment."
                    .to_owned()
            }
            WebError::Store(StoreError::Failed(_)) | WebError::Failed(_) => {
                "Something failed here. Nothing was changed. What it was stands in the server's log."
                    .to_owned()
            }
            other => other.to_string(),
        };
        Bare::message("This did not work", &words).page(self.status_code())
    }
}

/// An address that takes other requests than the one that came.
pub fn not_so(asked: &Method) -> HttpResponse {
    let takes = match *asked {
        Method::GET | Method::HEAD => "POST",
        Method::POST => "GET, HEAD",
        _ => "GET, HEAD, POST",
    };
    let words = "This address is not opened that way. Go back, and use the page’s own links and buttons.";
    let mut page = Bare::message("This did not work", words).page(StatusCode::METHOD_NOT_ALLOWED);
    page.headers_mut().insert(header::ALLOW, HeaderValue::from_static(takes));
    page
}

/// Any address without a page, or one that is asked for in a way that it does not take.
pub async fn no_page(request: HttpRequest) -> Page {
    if request.resource_map().has_resource(request.path()) {
        return Ok(not_so(request.method()));
    }
    Err(WebError::NoPage)
}
