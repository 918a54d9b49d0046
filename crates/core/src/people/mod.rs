//! People who sign in: what a password must be.

mod password;

pub use password::{LEAST, MOST, Weak, check};
