//! placeholder
use std::io::Read;
fn main() {
    let mut t = String::new();
    let p = std::env::args().nth(2).unwrap_or_default();
    if let Ok(b) = std::fs::read(p) {
        t = String::from_utf8_lossy(&b).into_owned();
    }
    let _ = std::io::stdin().lock().read(&mut []);
    let r = lantern_core::sheet::read(&t);
    println!("{}", serde_json::to_string(&lantern_core::sheet::answer(&r)).unwrap_or_default());
    std::process::exit(i32::from(r.has_errors()));
}
