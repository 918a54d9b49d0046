//! Who signs in to a hall: its accounts, the links by which new ones join and passwords are set.

pub mod forgotten;
pub mod halls;
pub mod join;
pub mod own;
pub mod second;

use super::id;
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::post::{About, Letter, letter, sent};
use crate::session::{Change, Who, blocking, once_unless};
use actix_web::HttpRequest;
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::people::{Act, email, name};
use lantern_store::account::Role;
use lantern_store::{AccountId, Connection, LinkId, StoreError, account, gym, link, second as store_second};

/// Said where somebody would leave the hall without an owner.
const LAST_OWNER: &str = "The last owner stays: make somebody else an owner first.";
/// Said where no role was chosen.
const NO_ROLE: &str = "Choose what they may do.";

#[derive(Template)]
#[template(path = "people/list.html")]
struct PeoplePage {
    frame: Frame,
    /// It is theirs to invite and to remove.
    owner: bool,
    roles: [Role; 4],
    /// What there is to do, and which of the roles may.
    table: Vec<(&'static str, [bool; 4])>,
    people: Vec<Person>,
    links: Vec<LinkView>,
    /// A link that was just made: for whom, and its address; shown once.
    made: Option<(String, String)>,
    /// What became of the letter with it.
    sent: String,
    /// A second factor is wanted of everybody.
    demanded: bool,
    problem: String,
    /// E-mail and name as typed.
    typed: (String, String),
}

struct Person {
    id: AccountId,
    name: String,
    role: Role,
    me: bool,
    /// They have a second factor.
    second: bool,
}

struct LinkView {
    id: LinkId,
    words: String,
    ends: String,
}

/// What stands beside the list after a change.
#[derive(Default)]
struct Said {
    made: Option<(String, String)>,
    letter: Option<Letter>,
    problem: String,
    typed: (String, String),
}

fn page(conn: &mut Connection, who: &Who, said: Said) -> Result<PeoplePage, WebError> {
    let hall = gym::find(conn, who.gym())?;
    let owner = who.may(Act::People);
    let links = if owner { link::list(conn, who.gym())? } else { Vec::new() };
    Ok(PeoplePage {
        frame: Frame::new(who, &hall, Area::Settings, "People"),
        owner,
        roles: Role::ALL,
        table: Act::all().map(|a| (a.words(), Role::ALL.map(|r| r.may(a)))).collect(),
        people: account::list(conn, who.gym())?
            .into_iter()
            .map(|a| {
                let second = store_second::find(conn, (a.gym, a.id))?.is_some_and(|s| s.proven_at.is_some());
                Ok(Person { me: a.id == who.account(), id: a.id, name: a.name, role: a.role, second })
            })
            .collect::<Result<_, WebError>>()?,
        links: links
            .into_iter()
            .map(|l| LinkView {
                id: l.id,
                words: match l.account {
                    None => format!("{} ({}) may join, invited by {}", l.name, l.email, l.made_by),
                    Some(_) => format!("{} may set a new password, by {}", l.name, l.made_by),
                },
                ends: who.shown(&l.ends_at).format("%-d %b, %H:%M").to_string(),
            })
            .collect(),
        made: said.made,
        sent: String::new(),
        demanded: store_second::demanded(conn, who.gym())?,
        problem: said.problem,
        typed: said.typed,
    })
}

/// `GET /people`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    html(&blocking(&app, move |conn, _| page(conn, &who, Said::default())).await?)
}

/// A path with the address of this server: the one that it is known by, else the one under which it was asked.
pub(super) fn address(app: &App, request: &HttpRequest, path: &str) -> String {
    if let Some(office) = &app.office {
        return format!("{}{path}", office.address);
    }
    let info = request.connection_info();
    format!("{}://{}{path}", info.scheme(), info.host())
}

/// A change of the owner's that shows the list again.
async fn changed(
    app: Data<App>,
    change: Change,
    work: impl FnOnce(&mut Connection, &Who) -> Result<Said, WebError> + Send + 'static,
) -> Page {
    let (key, who) = (change.key(), change.who);
    let refused = |p: &PeoplePage| !p.problem.is_empty();
    let refused = move |(p, _): &(PeoplePage, Option<Letter>)| refused(p);
    let (mut shown, letter) = once_unless(&app, key, refused, move |conn, _| {
        let mut said = work(conn, &who)?;
        let letter = said.letter.take();
        Ok((page(conn, &who, said)?, letter))
    })
    .await?;
    // it is on its way or not when the page is shown: the link stands there in any case
    if let Some(letter) = letter
        && let Some(told) = sent(&app, letter).await
    {
        shown.sent = told;
    }
    let status = if shown.problem.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    html_as(status, &shown)
}

/// `POST /people/invite`: a link by which somebody joins, shown once.
pub async fn invite(app: Data<App>, request: HttpRequest, change: Change) -> Page {
    let f = &change.fields;
    let typed = (f.get("email").to_owned(), f.get("name").trim().to_owned());
    let role = Role::read(f.get("role"));
    let here = address(&app, &request, "/join/");
    changed(app, change, move |conn, who| {
        let refuse =
            |problem: &str| Said { problem: problem.to_owned(), typed: typed.clone(), ..Said::default() };
        let Some(mail) = email(&typed.0) else {
            return Ok(refuse("This is no e-mail address. Write, say, tam@hall.example."));
        };
        let Some(name) = name(&typed.1) else {
            return Ok(refuse("Write the coach's name, at most 80 characters."));
        };
        let Some(role) = role else { return Ok(refuse(NO_ROLE)) };
        let by = &who.sign_in.account.name;
        match link::invite(conn, who.gym(), by, (&mail, &name, role)) {
            Ok(token) => {
                let link = here + &token;
                let hall = gym::find(conn, who.gym())?.name;
                let letter = Some(letter(About::Joining, &hall, (&name, &mail), &link));
                Ok(Said { made: Some((name, link)), letter, ..Said::default() })
            }
            Err(e @ StoreError::Taken(_)) => Ok(refuse(&e.to_string())),
            Err(e) => Err(e.into()),
        }
    })
    .await
}

/// `POST /people/{id}/reset`: a link by which somebody sets a new password, shown once.
pub async fn reset(app: Data<App>, request: HttpRequest, change: Change, path: Path<String>) -> Page {
    let account = AccountId(id(&path)?);
    let here = address(&app, &request, "/join/");
    changed(app, change, move |conn, who| {
        let by = &who.sign_in.account.name;
        let token = link::reset(conn, who.gym(), by, account)?;
        let name = account::list(conn, who.gym())?.into_iter().find(|a| a.id == account).map(|a| a.name);
        let (name, link) = (name.unwrap_or_default(), here + &token);
        let (hall, mail) = (gym::find(conn, who.gym())?.name, account::email(conn, who.gym(), account)?);
        let letter = Some(letter(About::Password, &hall, (&name, &mail), &link));
        Ok(Said { made: Some((name, link)), letter, ..Said::default() })
    })
    .await
}

/// `POST /people/{id}/remove`: ends an account.
pub async fn remove(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let gone = AccountId(id(&path)?);
    changed(app, change, move |conn, who| match account::remove(conn, who.gym(), gone) {
        Ok(()) => Ok(Said::default()),
        Err(StoreError::Refused) => Ok(Said { problem: LAST_OWNER.to_owned(), ..Said::default() }),
        Err(e) => Err(e.into()),
    })
    .await
}

/// `POST /people/{id}/role`: somebody may do more or less from now on.
pub async fn role(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let account = AccountId(id(&path)?);
    let role = Role::read(change.fields.get("role"));
    changed(app, change, move |conn, who| {
        let said = |problem: &str| Said { problem: problem.to_owned(), ..Said::default() };
        let Some(role) = role else { return Ok(said(NO_ROLE)) };
        match account::change_role(conn, who.gym(), account, role) {
            Ok(()) => Ok(Said::default()),
            Err(StoreError::Refused) => Ok(said(LAST_OWNER)),
            Err(e) => Err(e.into()),
        }
    })
    .await
}

/// `POST /people/links/{id}/withdraw`: ends a link unused.
pub async fn withdraw(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let link = LinkId(id(&path)?);
    let gym = change.who.gym();
    blocking(&app, move |conn, _| Ok(link::withdraw(conn, gym, link)?)).await?;
    go("/people")
}

/// `POST /people/second`: a second factor is wanted of everybody, or left to each.
pub async fn demand(app: Data<App>, change: Change) -> Page {
    let wanted = change.fields.get("wanted") == "yes";
    changed(app, change, move |conn, who| {
        let own = store_second::find(conn, who.here())?.is_some_and(|s| s.proven_at.is_some());
        if wanted && !own {
            let problem =
                "Set up your own second factor first, under Your account. Then ask it of everybody.";
            return Ok(Said { problem: problem.to_owned(), ..Said::default() });
        }
        store_second::demand(conn, who.gym(), wanted)?;
        Ok(Said::default())
    })
    .await
}

/// `POST /people/{id}/second`: takes off the second factor of somebody who lost it with every code.
pub async fn second_off(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let of = AccountId(id(&path)?);
    changed(app, change, move |conn, who| {
        // an account of another hall is not found
        account::email(conn, who.gym(), of)?;
        store_second::drop(conn, (who.gym(), of))?;
        Ok(Said::default())
    })
    .await
}
