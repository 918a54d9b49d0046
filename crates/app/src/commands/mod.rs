//! One file a subcommand; each ends in an exit code or a sentence that says what to do.

pub mod backup;
pub mod demo;
pub mod hall;
pub mod migrate;
pub mod plan;
pub mod read;
pub mod results;
pub mod send_bookings;
pub mod serve;
pub mod simulate;

use std::path::Path;
use std::process::ExitCode;

/// What a subcommand comes to.
pub type Done = Result<ExitCode, String>;

/// A text file, `-` for standard input. Bytes that are no UTF-8 are replaced: a paste may hold anything.
pub fn text_of(path: &Path) -> Result<String, String> {
    use std::io::Read;
    let mut bytes = Vec::new();
    let done = if path == Path::new("-") {
        std::io::stdin().read_to_end(&mut bytes)
    } else {
        std::fs::File::open(path).and_then(|mut f| f.read_to_end(&mut bytes))
    };
    done.map_err(|e| {
        format!("{} cannot be read: {e}. Name a text file, or - for standard input.", path.display())
    })?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

/// Prints to standard output; a reader that has gone away is no error.
pub fn print(text: &str) {
    use std::io::Write;
    let mut out = std::io::stdout().lock();
    let _ = out.write_all(text.as_bytes()).and_then(|()| out.flush());
}
