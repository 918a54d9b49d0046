//! A second factor: codes of six digits that change every half minute (RFC 6238), and codes for when the app is lost.

use totp_rs::{Algorithm, Secret, TOTP};

/// Digits of a code, and seconds for which it counts.
const DIGITS: usize = 6;
const STEP_S: u64 = 30;
/// Half minutes that a clock may be off to either side.
const OFF: u64 = 1;
/// Bytes of a secret.
pub const SECRET_BYTES: usize = 20;
/// Codes for when the app is lost.
pub const RECOVERY_CODES: usize = 10;

fn totp(secret: &[u8], hall: &str, email: &str) -> Option<TOTP> {
    // a colon parts issuer and account
    let plain = |s: &str| s.replace(':', " ");
    TOTP::new(Algorithm::SHA1, DIGITS, 0, STEP_S, secret.to_vec(), Some(plain(hall)), plain(email)).ok()
}

/// The half minute of a code at a moment (Unix time, s); `None` where it is none of now or beside now.
pub fn step_of_code(secret: &[u8], code: &str, now_s: u64) -> Option<u64> {
    let totp = totp(secret, "", "")?;
    let typed: String = code.chars().filter(|c| !c.is_whitespace()).collect();
    let now = now_s / STEP_S;
    (now.saturating_sub(OFF)..=now + OFF).find(|step| same(&totp.generate(step * STEP_S), &typed))
}

/// In a time that does not depend on where they differ.
fn same(a: &str, b: &str) -> bool {
    a.len() == b.len() && a.bytes().zip(b.bytes()).fold(0, |d, (x, y)| d | (x ^ y)) == 0
}

/// The address that an app reads from a picture; `None` for a secret that is too short.
pub fn address(secret: &[u8], hall: &str, email: &str) -> Option<String> {
    totp(secret, hall, email).map(|t| t.get_url())
}

/// The secret as it is typed into an app, in fours.
pub fn spelt(secret: &[u8]) -> String {
    let text = Secret::Raw(secret.to_vec()).to_encoded().to_string();
    let fours: Vec<String> = text.chars().collect::<Vec<_>>().chunks(4).map(|c| c.iter().collect()).collect();
    fours.join(" ")
}

/// A recovery code as it is kept and compared: whatever was typed between its letters.
///
/// ```
/// use lantern_core::people::recovery_form;
/// assert_eq!(recovery_form(" 4F2A-91BC 77d0 "), "4f2a91bc77d0");
/// ```
pub fn recovery_form(code: &str) -> String {
    code.chars().filter(char::is_ascii_alphanumeric).map(|c| c.to_ascii_lowercase()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_codes_of_the_standard_are_taken_in_their_half_minute_and_beside_it() {
        // RFC 6238, appendix B: eight digits, of which six are used
        let secret = b"12345678901234567890";
        for (at, code) in [(59, "287082"), (1_111_111_109, "081804"), (2_000_000_000, "279037")] {
            assert_eq!(step_of_code(secret, code, at), Some(at / 30));
            assert_eq!(step_of_code(secret, code, at + 30), Some(at / 30));
            assert_eq!(step_of_code(secret, code, at + 90), None);
        }
        assert_eq!(step_of_code(secret, " 287 082 ", 59), Some(1));
        for bad in ["", "28708", "2870822", "287083", "abcdef"] {
            assert_eq!(step_of_code(secret, bad, 59), None, "{bad}");
        }
        assert_eq!(step_of_code(b"short", "287082", 59), None);
    }

    #[test]
    fn an_app_reads_the_hall_and_the_account() {
        let url = address(b"12345678901234567890", "Hall: One", "ines@hall.example").unwrap();
        assert!(
            url.starts_with("otpauth://totp/") && url.contains("GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"),
            "{url}"
        );
        assert_eq!(spelt(b"12345678901234567890"), "GEZD GNBV GY3T QOJQ GEZD GNBV GY3T QOJQ");
        assert_eq!(address(b"short", "Hall", "a@b.example"), None);
    }
}
