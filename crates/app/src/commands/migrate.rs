//! placeholder
use super::Done;
#[derive(clap::Args)]
pub struct Args {}
pub fn run(_: &Args) -> Done {
    Err("x".to_owned())
}
