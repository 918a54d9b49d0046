//! How many tries at passwords and codes are let through, by whose they are and from where. What is counted stands in the database:
//! several processes count together. Pages of whoever is signed in count nothing.

use crate::app::App;
use crate::error::WebError;
use crate::session::blocking;
use actix_web::HttpRequest;
use lantern_store::account::Account;
use lantern_store::door::{self, Gate};
use std::net::{IpAddr, Ipv6Addr};

/// Tries within ten minutes: at one account from one address, or with one code.
const MOST: i32 = 5;
/// From one address at any account: a hall's coaches share theirs.
const MOST_OF_ADDRESS: i32 = 40;
/// At one account from anywhere.
const MOST_OF_ACCOUNT: i32 = 30;

/// Takes one try of somebody.
///
/// # Errors
/// Inside: the sentence that says how long to wait for the next.
pub async fn take(app: &App, who: &str) -> Result<Result<(), String>, WebError> {
    let gate = Gate { key: who.to_owned(), most: MOST };
    let wait = blocking(app, move |conn, _| Ok(door::take(conn, &[gate])?)).await?;
    Ok(wait.map_or(Ok(()), |minutes| Err(said(minutes))))
}

/// Forgets the tries of somebody who got in.
pub async fn clear(app: &App, who: &str) -> Result<(), WebError> {
    let key = who.to_owned();
    blocking(app, move |conn, _| Ok(door::clear(conn, &key)?)).await
}

fn said(minutes: u32) -> String {
    format!("Too many tries. Wait {minutes} min and try again.")
}

/// A try at somebody's password.
pub struct Knock {
    address: String,
    email: String,
}

impl Knock {
    /// At an account, from where a request came.
    pub fn of(app: &App, request: &HttpRequest, email: &str) -> Knock {
        Knock { address: address(app, request), email: email.to_lowercase() }
    }

    fn pair(&self) -> String {
        format!("pair {} {}", self.address, self.email)
    }

    /// Takes it. Where somebody got in from this address lately, tries of others, or from elsewhere, do not stand in their way.
    ///
    /// # Errors
    /// Inside: the sentence that says how long to wait for the next.
    pub async fn take(&self, app: &App) -> Result<Result<(), String>, WebError> {
        let gate = |key: String, most| Gate { key, most };
        let pair = self.pair();
        let all = [
            gate(format!("address {}", self.address), MOST_OF_ADDRESS),
            gate(format!("account {}", self.email), MOST_OF_ACCOUNT),
        ];
        let wait = blocking(app, move |conn, _| {
            let known = door::known(conn, &pair)?;
            let mut gates = vec![gate(pair, MOST)];
            gates.extend(all.into_iter().filter(|_| !known));
            Ok(door::take(conn, &gates)?)
        });
        Ok(wait.await?.map_or(Ok(()), |minutes| Err(said(minutes))))
    }

    /// It was right.
    pub async fn got_in(&self, app: &App, account: &Account) -> Result<(), WebError> {
        let (pair, account) = (self.pair(), account.clone());
        blocking(app, move |conn, _| Ok(door::got_in(conn, &account, &pair)?)).await
    }
}

/// Where a request came from: what a proxy says that is trusted, else the other end of the line.
pub fn address(app: &App, request: &HttpRequest) -> String {
    let Some(peer) = request.peer_addr() else { return String::new() };
    let said: Vec<&str> =
        request.headers().get_all("X-Forwarded-For").filter_map(|v| v.to_str().ok()).collect();
    network(came_from(peer.ip(), &said.join(","), &app.trusted_proxies))
}

/// The last address of a chain that is no trusted proxy: everything before it is only claimed.
fn came_from(peer: IpAddr, said: &str, trusted: &[IpAddr]) -> IpAddr {
    let mut here = peer.to_canonical();
    for part in said.rsplit(',') {
        if !trusted.contains(&here) {
            break;
        }
        let Ok(before) = part.trim().parse::<IpAddr>() else { break };
        here = before.to_canonical();
    }
    here
}

/// What one customer of a network has: an IPv4 address, or 64 bits of an IPv6 one.
fn network(ip: IpAddr) -> String {
    match ip {
        IpAddr::V4(ip) => ip.to_string(),
        IpAddr::V6(ip) => {
            let [a, b, c, d, ..] = ip.segments();
            Ipv6Addr::new(a, b, c, d, 0, 0, 0, 0).to_string()
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_a_trusted_proxy_is_believed_and_only_its_own_word() {
        let ip = |t: &str| t.parse::<IpAddr>().unwrap();
        let proxy = [ip("127.0.0.1"), ip("10.0.0.2")];
        let of = |peer: &str, said: &str| came_from(ip(peer), said, &proxy).to_string();
        assert_eq!(of("203.0.113.9", "198.51.100.1"), "203.0.113.9", "a stranger says what they like");
        assert_eq!(of("127.0.0.1", "198.51.100.1"), "198.51.100.1");
        assert_eq!(
            of("127.0.0.1", "1.1.1.1, 198.51.100.1"),
            "198.51.100.1",
            "the first part is only claimed"
        );
        assert_eq!(of("127.0.0.1", "198.51.100.1, 10.0.0.2"), "198.51.100.1", "two proxies");
        assert_eq!(of("127.0.0.1", "rubbish"), "127.0.0.1");
        assert_eq!(of("127.0.0.1", ""), "127.0.0.1");
        assert_eq!(of("::ffff:127.0.0.1", "::ffff:198.51.100.1"), "198.51.100.1");
        assert_eq!(came_from(ip("127.0.0.1"), "198.51.100.1", &[]).to_string(), "127.0.0.1");
    }

    #[test]
    fn a_customer_with_many_addresses_is_one() {
        let of = |t: &str| network(t.parse().unwrap());
        assert_eq!(of("2001:db8:1:2:3:4:5:6"), of("2001:db8:1:2:ffff::1"));
        assert_ne!(of("2001:db8:1:2::1"), of("2001:db8:1:3::1"));
        assert_eq!(of("198.51.100.1"), "198.51.100.1");
    }
}
