//! What each address asks of whoever opens it. Everybody who is signed in passes here, and only here.

use crate::error::WebError;
use actix_web::http::Method;
use lantern_core::people::{Act, Role};

/// What is not for coaches, or for more than them: (address, what reading it asks, what changing it asks).
const DOORS: [(&str, Act, Act); 17] = [
    ("/", Act::Own, Act::Own),
    ("/sign-out", Act::Own, Act::Own),
    ("/own", Act::Own, Act::Own),
    ("/own/password", Act::Own, Act::Own),
    ("/own/others", Act::Own, Act::Own),
    ("/classes", Act::Book, Act::Book),
    ("/classes/new", Act::Book, Act::Book),
    ("/classes/{id}", Act::Book, Act::Book),
    ("/classes/{id}/bookings", Act::Book, Act::Book),
    ("/classes/{id}/when", Act::Book, Act::Book),
    ("/classes/{id}/cancel", Act::Book, Act::Book),
    ("/classes/{id}/repeat", Act::Book, Act::Book),
    ("/settings", Act::Coach, Act::Settle),
    ("/people/invite", Act::People, Act::People),
    ("/people/{id}/{what}", Act::People, Act::People),
    ("/people/links/{id}/withdraw", Act::People, Act::People),
    ("/members/{id}/erase", Act::Erase, Act::Erase),
];

/// What an address asks; what stands in no list is for coaches.
pub fn asks(method: &Method, pattern: &str) -> Act {
    let alike =
        |door: &str| door == pattern || door.strip_suffix("/{what}").is_some_and(|d| one_below(pattern, d));
    let found = DOORS.iter().find(|(door, ..)| alike(door));
    match found {
        Some((_, read, _)) if *method == Method::GET || *method == Method::HEAD => *read,
        Some((.., change)) => *change,
        None => Act::Coach,
    }
}

/// Whether a pattern is one step below another.
fn one_below(pattern: &str, door: &str) -> bool {
    let rest = pattern.strip_prefix(door).and_then(|r| r.strip_prefix('/'));
    rest.is_some_and(|r| !r.is_empty() && !r.contains('/'))
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
    fn what_no_list_names_is_for_coaches() {
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
