//! Keeps who changed what: every change of somebody signed in passes here, once it is done.

use crate::app::App;
use crate::session::{Fields, Who, blocking};
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use actix_web::{HttpMessage, HttpRequest, web};
use lantern_core::people::Deed;
use lantern_store::account::Account;
use lantern_store::audit;
use uuid::Uuid;

/// A change that is kept when it is done.
#[derive(Clone)]
struct Doing {
    by: Account,
    deed: Deed,
    subject: Option<Uuid>,
    detail: String,
}

/// What a change is, by its address; `None`: nothing is changed by it, or only what its owner alone sees, like a draft.
pub fn of(pattern: &str, f: &Fields) -> Option<Deed> {
    // a table is read before anything of it is kept
    let reads = matches!(f.get("do"), "" | "read");
    Some(match pattern {
        "/sign-out" => Deed::SignedOut,
        "/people/invite" => Deed::Invited,
        "/people/{id}/reset" => Deed::MadePasswordLink,
        "/people/links/{id}/withdraw" => Deed::WithdrewLink,
        "/people/{id}/remove" => Deed::RemovedPerson,
        "/people/{id}/role" => Deed::ChangedRole,
        "/people/{id}/second" | "/own/second/off" => Deed::TookSecondFactorOff,
        "/people/second" => Deed::DemandedSecondFactor,
        "/own/password" => Deed::ChangedPassword,
        "/own/email" => Deed::ChangedEmail,
        "/own/others" => Deed::EndedSignIns,
        "/own/second/prove" => Deed::SetSecondFactor,
        "/own/second/codes" => Deed::MadeRecoveryCodes,
        "/sign-in/code" => Deed::SignedIn,
        "/classes/{id}/bookings" if f.get("do") == "read" => return None,
        "/members/import" | "/members/roster" if reads => return None,
        p if p.starts_with("/classes/") => return of_class(p),
        p if p.starts_with("/members/") => return of_member(p),
        "/timetable/feed/{id}/settle" => Deed::Booked,
        "/timetable/make" => Deed::MadeWeek,
        "/timetable" | "/timetable/{id}/end" | "/timetable/feed" | "/timetable/feed/end" => {
            Deed::ChangedTimetable
        }
        "/cycles/new" | "/cycles/{id}" | "/cycles/{id}/hold" => Deed::ChangedCycle,
        "/cycles/{id}/remove" => Deed::RemovedCycle,
        "/settings" => Deed::ChangedSettings,
        "/kit" => Deed::ChangedKit,
        _ => return None,
    })
}

fn of_class(pattern: &str) -> Option<Deed> {
    Some(match pattern.trim_start_matches("/classes/").trim_start_matches("{id}/") {
        "new" => Deed::MadeClass,
        "when" => Deed::MovedClass,
        "cancel" => Deed::CancelledClass,
        "repeat" => Deed::RepeatedClass,
        "bookings" => Deed::Booked,
        "came" => Deed::KeptHowTheyCame,
        "sheet" | "sheet/take" | "sheet/choose" | "sheet/canonical" | "sheet/copy" => Deed::ChangedSheet,
        "clock" => Deed::PressedClock,
        "log/teach" => Deed::Taught,
        "finish" | "finish/back" | "finish/cut" | "finish/cut/back" => Deed::Logged,
        p if p == "log" || p.starts_with("log/") => Deed::Logged,
        "undo" | "stimulus" | "length" | "running" | "ways" | "swap" | "load" | "move" | "fit" | "bases"
        | "rack/{n}" | "version" | "suggest" | "schools" | "variants" => Deed::Decided,
        _ => return None,
    })
}

fn of_member(pattern: &str) -> Option<Deed> {
    Some(match pattern.trim_start_matches("/members/").trim_start_matches("{id}/") {
        "new" => Deed::AddedMember,
        "{id}" => Deed::ChangedMember,
        "import" | "roster" => Deed::ReadMembers,
        "leave" => Deed::MemberLeft,
        "back" => Deed::MemberCameBack,
        "erase" => Deed::ErasedMember,
        "link" => Deed::MadeOwnPage,
        "link/withdraw" => Deed::WithdrewOwnPage,
        "proposals/{id}" => Deed::AnsweredProposal,
        "results" | "results/forget" => Deed::Taught,
        _ => return None,
    })
}

/// What more is said of it; never anything that is private.
fn detail(deed: Deed, f: &Fields) -> String {
    match deed {
        Deed::ChangedRole => f.get("role").replace('-', " "),
        Deed::Invited => f.get("name").trim().to_owned(),
        Deed::CancelledClass => if f.get("as") == "back" { "it takes place" } else { "cancelled" }.to_owned(),
        Deed::DemandedSecondFactor => {
            if f.get("wanted") == "yes" { "asked of everybody" } else { "left to each" }.to_owned()
        }
        Deed::AnsweredProposal => if f.get("do") == "take" { "taken" } else { "put away" }.to_owned(),
        _ => String::new(),
    }
}

/// Marks a request as a change: it is kept once it is done.
pub(super) fn begins(request: &HttpRequest, who: &Who, f: &Fields) {
    let pattern = request.match_pattern().unwrap_or_default();
    let Some(deed) = of(&pattern, f) else { return };
    let at = |name: &str| Uuid::parse_str(request.match_info().get(name).unwrap_or_default()).ok();
    // of a proposal it is told whose it is; the proposal itself is gone
    let subject = match deed {
        Deed::AnsweredProposal => Uuid::parse_str(f.get("member")).ok(),
        _ => at("id"),
    };
    let doing = Doing { by: who.sign_in.account.clone(), deed, subject, detail: detail(deed, f) };
    request.extensions_mut().insert(doing);
}

/// Keeps a change that was done.
pub async fn kept(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let answer = next.call(request).await?;
    // an error page may have a good status: what was sent twice is done once
    let fine = answer.status().as_u16() < 400 && answer.response().error().is_none();
    let doing = answer.request().extensions().get::<Doing>().filter(|_| fine).cloned();
    if let (Some(d), Some(app)) = (doing, answer.request().app_data::<web::Data<App>>().cloned()) {
        let written =
            blocking(&app, move |conn, _| Ok(audit::keep(conn, &d.by, d.deed, d.subject, &d.detail)?)).await;
        if let Err(e) = written {
            tracing::error!("a change was done and is not kept in the list of changes: {e}");
        }
    }
    Ok(answer)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Changes of nothing that others see, and addresses where nobody is signed in.
    const APART: [&str; 13] = [
        "/classes/{id}/sent",
        "/own/keys",
        "/sign-in/forgotten",
        "/own/hall",
        "/feed/{hall}",
        "/set-up",
        "/sign-in",
        "/join/{token}",
        "/mine/{token}",
        "/mine/{token}/back/{id}",
        "/own/second",
        "/classes/{id}/sheet/read",
        "/classes/{id}/sheet/check",
    ];

    #[test]
    fn every_address_that_changes_something_is_kept_under_a_name() {
        let text = include_str!("../routes.rs");
        let mut changes = 0;
        for (at, _) in text.match_indices("\"/") {
            let pattern = text[at + 1..].split('"').next().unwrap();
            let own = text[at + 2..].find("\"/").map_or(&text[at..], |n| &text[at..at + 2 + n]);
            if !own.contains("post()") || APART.contains(&pattern) || pattern.ends_with("/discard") {
                continue;
            }
            let f = Fields::read(b"do=keep").unwrap();
            assert!(of(pattern, &f).is_some(), "{pattern}");
            changes += 1;
        }
        assert!(changes > 60, "{changes}");
    }

    #[test]
    fn a_table_that_is_only_read_changes_nothing() {
        let f = |body: &str| Fields::read(body.as_bytes()).unwrap();
        assert_eq!(of("/members/roster", &f("text=a")), None);
        assert_eq!(of("/members/roster", &f("do=add")), Some(Deed::ReadMembers));
        assert_eq!(of("/classes/{id}/bookings", &f("do=read")), None);
        assert_eq!(of("/classes/{id}/bookings", &f("")), Some(Deed::Booked));
        assert_eq!(detail(Deed::ChangedRole, &f("role=head-coach")), "head coach");
        assert_eq!(detail(Deed::ChangedMember, &f("limit=knee&name=Ada")), "", "nothing private");
    }
}
