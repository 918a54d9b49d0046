//! How letters leave this server: by SMTP, or into a post box, a folder where each is a file, for trying it out.

use crate::settings::Mail;
use lantern_web::post::{Letter, Office, Post};
use lettre::message::Mailbox;
use lettre::transport::file::FileTransport;
use lettre::{Message, SmtpTransport, Transport};
use std::sync::Arc;
use std::time::Duration;

/// Longest that a mail server may take, s.
const WAIT: Duration = Duration::from_secs(10);

/// A way of lettre's, and from whom letters come.
struct By<T> {
    way: T,
    from: Mailbox,
}

impl<T: Transport + Send + Sync> Post for By<T>
where
    T::Error: std::fmt::Display,
{
    fn send(&self, letter: &Letter) -> Result<(), String> {
        let to = letter.to.parse().map_err(|e| format!("{} is no address for a letter: {e}", letter.to))?;
        let message = Message::builder()
            .from(self.from.clone())
            .to(Mailbox::new(Some(letter.name.clone()), to))
            .subject(&letter.subject)
            .body(letter.text.clone())
            .map_err(|e| e.to_string())?;
        self.way.send(&message).map(drop).map_err(|e| e.to_string())
    }
}

/// The office of some settings.
///
/// # Errors
/// Names what is missing or wrong.
pub fn office(mail: &Mail) -> Result<Office, String> {
    let from: Mailbox =
        mail.from.parse().map_err(|e| format!("mail: from = “{}” is no address: {e}.", mail.from))?;
    let address = mail.address.trim_end_matches('/').to_owned();
    if !(address.starts_with("http://") || address.starts_with("https://")) {
        return Err("mail: write the address under which people reach this server, say address = \"https://hall.example\".".to_owned());
    }
    let post: Arc<dyn Post> = match (&mail.smtp, &mail.post_box) {
        (Some(url), None) => {
            let way = SmtpTransport::from_url(url).map_err(|e| format!("mail: smtp cannot be used: {e}."))?;
            Arc::new(By { way: way.timeout(Some(WAIT)).build(), from })
        }
        (None, Some(folder)) => {
            std::fs::create_dir_all(folder)
                .map_err(|e| format!("mail: post_box = {} cannot be used: {e}.", folder.display()))?;
            Arc::new(By { way: FileTransport::new(folder), from })
        }
        _ => return Err("mail: write either smtp or post_box.".to_owned()),
    };
    Ok(Office { post, address })
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_web::post::{About, letter};

    fn mail(smtp: Option<&str>, folder: Option<std::path::PathBuf>) -> Mail {
        Mail {
            from: "Quay Hall <quay@hall.example>".to_owned(),
            address: "https://hall.example/".to_owned(),
            smtp: smtp.map(str::to_owned),
            post_box: folder,
        }
    }

    #[test]
    fn a_post_box_holds_each_letter_as_a_file() {
        let folder = std::env::temp_dir().join(format!("hl-post-{}", std::process::id()));
        let office = office(&mail(None, Some(folder.clone()))).unwrap();
        assert_eq!(office.address, "https://hall.example");
        let link = "https://hall.example/join/abc";
        office.post.send(&letter(About::Joining, "Quay Hall", ("Tam Ö.", "tam@hall.example"), link)).unwrap();
        let files: Vec<_> = std::fs::read_dir(&folder).unwrap().map(|f| f.unwrap().path()).collect();
        let text = std::fs::read_to_string(&files[0]).unwrap();
        assert!(
            files.len() == 1 && text.contains("Subject: Join Quay Hall") && text.contains("tam@hall.example"),
            "{text}"
        );
        assert!(office.post.send(&letter(About::Joining, "Q", ("T", "no address"), link)).is_err());
        std::fs::remove_dir_all(&folder).unwrap();
    }

    #[test]
    fn what_is_missing_is_named_and_a_server_that_is_away_is_said() {
        let wrong = |m: Mail| office(&m).err().unwrap();
        assert!(wrong(mail(None, None)).contains("either smtp or post_box"));
        assert!(
            wrong(Mail { from: "nobody".into(), ..mail(Some("smtp://127.0.0.1:9"), None) }).contains("from")
        );
        assert!(
            wrong(Mail { address: "hall".into(), ..mail(Some("smtp://127.0.0.1:9"), None) })
                .contains("address")
        );
        assert!(wrong(mail(Some("post://x"), None)).contains("smtp cannot be used"));
        let away = office(&mail(Some("smtp://127.0.0.1:9"), None)).unwrap();
        assert!(away.post.send(&letter(About::Password, "Q", ("T", "t@hall.example"), "x")).is_err());
    }
}
