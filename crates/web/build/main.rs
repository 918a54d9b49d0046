//! Makes the one style sheet that is served: what pages use of the vendored one, then our own. Nothing is fetched.
#![allow(clippy::panic)] // a build that cannot read its own files fails, with the file's name

mod trim;

use std::path::{Path, PathBuf};

const SHEET: &str = "static/vendor/bulma-1.0.4.min.css";
/// Sheets of our own, which read its variables.
const OTHERS: [&str; 3] = ["static/lantern.css", "static/app.css", "static/floor.css"];
/// Where pages are made: everything in them may name a class.
const PAGES: [&str; 3] = ["templates", "src", "static/js"];

fn read(path: &Path) -> String {
    std::fs::read_to_string(path).unwrap_or_else(|why| panic!("{}: {why}", path.display()))
}

fn files(of: &Path, out: &mut Vec<PathBuf>) {
    let entries = std::fs::read_dir(of).unwrap_or_else(|why| panic!("{}: {why}", of.display()));
    for entry in entries.flatten() {
        let path = entry.path();
        if path.is_dir() { files(&path, out) } else { out.push(path) }
    }
}

fn write(name: &str, css: &str) {
    let Some(out) = std::env::var_os("OUT_DIR") else { panic!("cargo gives no folder to write to") };
    let to = Path::new(&out).join(name);
    std::fs::write(&to, css).unwrap_or_else(|why| panic!("{}: {why}", to.display()));
}

fn main() {
    let mut pages = Vec::new();
    for folder in PAGES {
        println!("cargo::rerun-if-changed={folder}");
        files(Path::new(folder), &mut pages);
    }
    for file in OTHERS.iter().chain([&SHEET, &"build"]) {
        println!("cargo::rerun-if-changed={file}");
    }
    let used = pages.iter().flat_map(|p| trim::words(&read(p))).collect();
    let others = OTHERS.map(|o| read(Path::new(o)));
    let css = trim::trimmed(&read(Path::new(SHEET)), &used, &others.each_ref().map(String::as_str));
    let css = [css, others.concat()].map(|c| trim::themed(&c)).concat();
    write("styles.css", &css);
    write("screens.css", &trim::patient_faces(&others.concat()));
}
