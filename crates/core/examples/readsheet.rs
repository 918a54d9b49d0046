//! Temporary.
fn main() {
    let p = std::env::args().nth(2).unwrap();
    let t = String::from_utf8_lossy(&std::fs::read(p).unwrap()).into_owned();
    let r = lantern_core::sheet::read(&t);
    println!("{}", serde_json::to_string(&lantern_core::sheet::answer(&r)).unwrap());
    if std::env::args().nth(1).as_deref() == Some("lines") {
        let ls: Vec<&str> = t.split('\n').collect();
        for (n, k) in &r.lines {
            eprintln!("{n:3} {k:?}: {}", ls[*n as usize - 1]);
        }
    }
    if r.has_errors() {
        std::process::exit(1)
    }
}
