//! `honest-lantern send-bookings`: a small program that sends bookings and cancellations as another one would, for trying it out.

use super::{Done, print};
use lantern_core::timetable::{Event, Happened};
use lantern_web::feed::{PROOF, TIME, proof};
use std::io::{Read, Write};
use std::net::TcpStream;
use std::path::PathBuf;
use std::process::ExitCode;
use std::time::Duration;

/// Seconds that a server has for an answer.
const WAIT: Duration = Duration::from_secs(10);

/// Arguments.
#[derive(clap::Args)]
pub struct Args {
    /// Where the hall's events are sent: the address on its page Bookings from elsewhere. Only over plain HTTP, so only on this machine.
    #[arg(long)]
    to: String,
    /// File with the secret of the hall's feed.
    #[arg(long)]
    secret_file: PathBuf,
    /// Events, a line each: booked or cancelled, start of the class, name of the member, and a key of your own where it is sent again:
    /// `booked,2026-11-24T18:00,Ada V.`
    events: PathBuf,
}

/// Runs it.
pub fn run(args: &Args) -> Done {
    let read = |path: &PathBuf| {
        std::fs::read_to_string(path).map_err(|e| format!("{} cannot be read: {e}.", path.display()))
    };
    let (secret, text) = (read(&args.secret_file)?, read(&args.events)?);
    let (host, path) = parts(&args.to)?;
    let mut all_taken = true;
    for (i, line) in text.lines().enumerate().filter(|(_, l)| !l.trim().is_empty()) {
        let event = event(line).map_err(|e| format!("{}, line {}: {e}", args.events.display(), i + 1))?;
        let (status, answer) = send((host, path), secret.trim(), &event)?;
        all_taken &= status == 200;
        print(&format!("{status} {line}: {answer}\n"));
    }
    Ok(if all_taken { ExitCode::SUCCESS } else { ExitCode::FAILURE })
}

/// Host with port, and path, of an address.
fn parts(to: &str) -> Result<(&str, &str), String> {
    let rest =
        to.strip_prefix("http://").ok_or("the address begins with http://: it is for this machine only.")?;
    let at = rest.find('/').ok_or("the address has no path; copy it whole from the hall's page.")?;
    Ok((rest.get(..at).unwrap_or_default(), rest.get(at..).unwrap_or_default()))
}

/// A line as an event.
fn event(line: &str) -> Result<Event, String> {
    let cells: Vec<&str> = line.split(',').map(str::trim).collect();
    let (what, starts_at, member) = match cells.as_slice() {
        [what, at, member] | [what, at, member, _] => (*what, *at, *member),
        _ => return Err("write what, start and name, say booked,2026-11-24T18:00,Ada V.".to_owned()),
    };
    let what =
        Happened::from_word(what).ok_or_else(|| format!("“{what}” is neither booked nor cancelled."))?;
    let fresh = || format!("line-{}", lantern_store::EventId::fresh());
    let event = cells.get(3).map_or_else(fresh, |key| (*key).to_owned());
    Ok(Event { event, what, starts_at: starts_at.to_owned(), member: member.to_owned() })
}

/// Sends one event; status and what was answered.
fn send((host, path): (&str, &str), secret: &str, event: &Event) -> Result<(u16, String), String> {
    let body = serde_json::to_string(event).map_err(|e| e.to_string())?;
    let time = chrono::Utc::now().timestamp();
    let proof = proof(secret, time, body.as_bytes());
    let talk = || {
        let mut line = TcpStream::connect(host)?;
        line.set_read_timeout(Some(WAIT))?;
        write!(
            line,
            "POST {path} HTTP/1.1\r\nHost: {host}\r\n{TIME}: {time}\r\n{PROOF}: {proof}\r\nContent-Type: application/json\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
            body.len()
        )?;
        let mut answer = String::new();
        line.take(64 * 1024).read_to_string(&mut answer)?;
        Ok::<_, std::io::Error>(answer)
    };
    let answer = talk().map_err(|e| format!("{host} does not answer: {e}. Is the server running?"))?;
    let status = answer.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0);
    let body = answer.split_once("\r\n\r\n").map_or("", |(_, b)| b);
    Ok((status, body.to_owned()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_line_is_an_event_or_says_what_it_lacks() {
        let e = event("booked, 2026-11-24T18:00, Ada V., key-7").unwrap();
        assert_eq!((e.what, e.member.as_str(), e.event.as_str()), (Happened::Booked, "Ada V.", "key-7"));
        let (a, b) = (
            event("cancelled,2026-11-24T18:00,Ada V.").unwrap(),
            event("cancelled,2026-11-24T18:00,Ada V.").unwrap(),
        );
        assert_ne!(a.event, b.event, "each line is its own event");
        assert!(event("booked,2026-11-24T18:00").unwrap_err().contains("write what, start and name"));
        assert!(event("eaten,2026-11-24T18:00,Ada").unwrap_err().contains("neither booked nor cancelled"));
        assert_eq!(parts("http://127.0.0.1:8080/feed/x"), Ok(("127.0.0.1:8080", "/feed/x")));
        assert!(parts("https://hall.example/feed/x").is_err() && parts("http://127.0.0.1:8080").is_err());
    }
}
