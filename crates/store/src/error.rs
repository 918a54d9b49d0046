//! What can go wrong with the store, in sentences for people; the variants are those that a caller acts on.

use diesel::result::{DatabaseErrorKind, Error as DieselError};
use thiserror::Error;

/// An error of the store.
#[derive(Debug, Error)]
pub enum StoreError {
    /// The row is not there, or belongs to another gym.
    #[error("This does not exist any more. Go back and open it again.")]
    NotFound,
    /// A name or address is taken.
    #[error("{0} is there already. Choose another name.")]
    Taken(String),
    /// Somebody else changed it meanwhile.
    #[error("Somebody else changed this meanwhile. Look at what is there now, then try again.")]
    Raced,
    /// It is held: results stand on it.
    #[error(
        "Results are logged for this, so it stays as it was held. Take them back in the Log, or plan the class anew there."
    )]
    Held,
    /// A value that the database refuses.
    #[error("A value is outside what can be kept. Check the figures and try again.")]
    Refused,
    /// The database does not answer.
    #[error("The database does not answer. Start it and try again. ({0})")]
    Away(String),
    /// A file that is not what it should be, or cannot be written.
    #[error("{0}")]
    File(String),
    /// Anything else.
    #[error("The database failed: {0}")]
    Failed(String),
}

/// Result of the store.
pub type Result<T> = std::result::Result<T, StoreError>;

impl From<DieselError> for StoreError {
    fn from(e: DieselError) -> StoreError {
        match e {
            DieselError::NotFound => StoreError::NotFound,
            DieselError::DatabaseError(kind, info) => match kind {
                DatabaseErrorKind::UniqueViolation => StoreError::Taken("This name".to_owned()),
                DatabaseErrorKind::ForeignKeyViolation => StoreError::NotFound,
                DatabaseErrorKind::CheckViolation | DatabaseErrorKind::NotNullViolation => {
                    StoreError::Refused
                }
                DatabaseErrorKind::ClosedConnection => StoreError::Away(info.message().to_owned()),
                _ => StoreError::Failed(info.message().to_owned()),
            },
            other => StoreError::Failed(other.to_string()),
        }
    }
}

impl From<serde_json::Error> for StoreError {
    fn from(e: serde_json::Error) -> StoreError {
        StoreError::Failed(format!("a stored value cannot be read: {e}"))
    }
}
