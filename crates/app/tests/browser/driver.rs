//! A headless Chromium for a test or a picture: its driver on a free port, ended with the value.

use fantoccini::{Client, ClientBuilder};
use hyper_util::client::legacy::connect::HttpConnector;
use std::net::{TcpListener, TcpStream};
use std::process::{Child, Command, Stdio};
use std::time::Duration;

/// A driver and its browser.
pub struct Browser {
    driver: Child,
    /// The browser's profile: new and empty, removed at the end.
    profile: std::path::PathBuf,
    /// The session.
    pub client: Client,
}

/// A port that nobody listens on.
pub fn free_port() -> u16 {
    TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().port()
}

/// Waits until somebody listens on a port.
pub async fn listens(port: u16) {
    for _ in 0..200 {
        if TcpStream::connect(("127.0.0.1", port)).is_ok() {
            return;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("nobody listens on port {port}");
}

impl Browser {
    /// Starts one with a page of this size.
    pub async fn start(width: u32, height: u32) -> Browser {
        Browser::with(width, height, true).await
    }

    /// Starts one that runs no script.
    #[allow(dead_code)] // the pictures need scripts
    pub async fn without_script() -> Browser {
        Browser::with(1280, 800, false).await
    }

    async fn with(width: u32, height: u32, script: bool) -> Browser {
        let port = free_port();
        let profile =
            std::env::temp_dir().join(format!("honest-lantern-browser-{}-{port}", std::process::id()));
        let driver = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .expect("chromedriver is installed: bin/test installs it");
        listens(port).await;
        let options = serde_json::json!({
            "goog:chromeOptions": { "prefs": { "profile.managed_default_content_settings.javascript": if script { 1 } else { 2 } }, "args": [
                "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-dev-shm-usage",
                "--disable-background-networking", "--disable-component-update", "--disable-sync", "--hide-scrollbars",
                format!("--user-data-dir={}", profile.display()), format!("--window-size={width},{height}"),
            ] }
        });
        let client = ClientBuilder::new(HttpConnector::new())
            .capabilities(options.as_object().unwrap().clone())
            .connect(&format!("http://127.0.0.1:{port}"))
            .await
            .expect("Chromium starts");
        let browser = Browser { driver, profile, client };
        browser.view(width, height).await;
        browser
    }

    /// Sets the size of the page itself, without the window's frame, however small the window may be.
    pub async fn view(&self, width: u32, height: u32) {
        let metrics = serde_json::json!({
            "cmd": "Emulation.setDeviceMetricsOverride",
            "params": { "width": width, "height": height, "deviceScaleFactor": 1, "mobile": false }
        });
        self.client.issue_cmd(Devtools(metrics)).await.unwrap();
    }

    /// Takes the network from its page, or gives it back.
    #[allow(dead_code)] // the pictures have one
    pub async fn offline(&self, off: bool) {
        let params = serde_json::json!({ "offline": off, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1 });
        for command in [
            serde_json::json!({ "cmd": "Network.enable", "params": {} }),
            serde_json::json!({ "cmd": "Network.emulateNetworkConditions", "params": params }),
        ] {
            self.client.issue_cmd(Devtools(command)).await.unwrap();
        }
    }
}

/// A command of the browser's own protocol, which the driver passes on.
#[derive(Debug)]
struct Devtools(serde_json::Value);

impl fantoccini::wd::WebDriverCompatibleCommand for Devtools {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(self.0.to_string()))
    }
}

impl Drop for Browser {
    fn drop(&mut self) {
        let _ = self.driver.kill();
        let _ = self.driver.wait();
        // a killed driver leaves its browser: its processes are those that name this profile
        end_all_of(&self.profile);
        let _ = std::fs::remove_dir_all(&self.profile);
    }
}

/// Ends every process whose command line names a profile. They start one another, so it looks again until none is left.
fn end_all_of(profile: &std::path::Path) {
    let name = profile.display().to_string();
    for _ in 0..20 {
        let pids: Vec<String> = std::fs::read_dir("/proc")
            .into_iter()
            .flatten()
            .flatten()
            .filter(|e| {
                std::fs::read(e.path().join("cmdline"))
                    .is_ok_and(|c| String::from_utf8_lossy(&c).contains(&name))
            })
            .filter_map(|e| e.file_name().into_string().ok())
            .collect();
        if pids.is_empty() {
            return;
        }
        let _ = Command::new("sh")
            .arg("-c")
            .arg(format!("kill -KILL {}", pids.join(" ")))
            .stderr(Stdio::null())
            .status();
        std::thread::sleep(std::time::Duration::from_millis(50));
    }
}
