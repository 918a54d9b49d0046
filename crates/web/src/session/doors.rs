//! What each address asks of whoever opens it. Everybody who is signed in passes here, and only here.

use crate::error::WebError;
use actix_web::http::Method;
use lantern_core::people::{Act, Role};

/// What an address asks; what is not named here is for coaches.
pub fn asks(method: &Method, pattern: &str) -> Act {
    let reads = *method == Method::GET || *method == Method::HEAD;
    match pattern {
        "/" | "/sign-out" | "/sign-in/code" | "/words" => Act::Own,
        p if p == "/own" || p.starts_with("/own/") => Act::Own,
        "/classes" | "/classes/new" | "/classes/{id}" | "/classes/{id}/bookings" => Act::Book,
        "/classes/{id}/came" | "/timetable/make" | "/timetable/feed/{id}/settle" => Act::Book,
        "/timetable" | "/timetable/feed" if reads => Act::Book,
        p if p.starts_with("/timetable") => Act::Settle,
        "/classes/{id}/when" | "/classes/{id}/cancel" | "/classes/{id}/repeat" => Act::Book,
        "/settings" if !reads => Act::Settle,
        "/changes" => Act::Settle,
        // everything that is done with accounts and their links
        p if p.starts_with("/people/") => Act::People,
        "/members/{id}/erase" => Act::Erase,
        _ => Act::Coach,
    }
}

/// Lets somebody in or says who may.
pub fn opens(role: Role, method: &Method, pattern: &str) -> Result<(), WebError> {
    let act = asks(method, pattern);
    if role.may(act) { Ok(()) } else { Err(WebError::NotAllowed(act)) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_not_named_is_for_coaches() {
        let of = |m: Method, p: &str| asks(&m, p);
        assert_eq!(of(Method::GET, "/classes/{id}/loads"), Act::Coach);
        assert_eq!(of(Method::GET, "/members/{id}"), Act::Coach);
        assert_eq!(of(Method::GET, "/settings"), Act::Coach);
        assert_eq!(of(Method::POST, "/settings"), Act::Settle);
        assert_eq!(of(Method::POST, "/people/{id}/remove"), Act::People);
        assert_eq!(of(Method::POST, "/people/{id}/role"), Act::People);
        assert_eq!(of(Method::GET, "/people"), Act::Coach);
        assert_eq!(of(Method::POST, "/classes/{id}/bookings"), Act::Book);
        assert_eq!(of(Method::POST, "/members/{id}/erase"), Act::Erase);
        assert!(opens(Role::FrontDesk, &Method::GET, "/classes/{id}/hour").is_err());
        assert!(opens(Role::FrontDesk, &Method::GET, "/classes/{id}/bookings").is_ok());
    }
}
