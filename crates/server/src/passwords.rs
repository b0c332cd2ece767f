//! Passwords: argon2id with its recommended parameters, off the request threads and a few at a time; and how good a new one is.

use std::sync::{Arc, LazyLock};

use argon2::Argon2;
use argon2::password_hash::phc::PasswordHash;
use argon2::password_hash::{PasswordHasher, PasswordVerifier};
use tokio::sync::Semaphore;
use zxcvbn::{Score, zxcvbn};

/// Hashings under way at once; each takes some 20 MB.
const AT_ONCE: usize = 2;
/// The shortest password accepted for an account, in characters.
pub const MIN_PASSWORD_LENGTH: usize = 12;
/// The longest password looked at, in bytes.
pub const MAX_PASSWORD_LENGTH: usize = 200;

/// Hashes and checks passwords, a few at a time.
#[derive(Clone, Debug)]
pub struct PasswordDesk(Arc<Semaphore>);

impl Default for PasswordDesk {
    fn default() -> Self {
        Self(Arc::new(Semaphore::new(AT_ONCE)))
    }
}

/// Why a password is not taken.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum WeakPassword {
    /// Too short or too long.
    #[error("Choose at least {MIN_PASSWORD_LENGTH} characters; several words are good.")]
    Length,
    /// Found in lists of common passwords, or soon guessed.
    #[error(
        "This one is soon guessed. Take several words that do not belong together, and none of your name or school."
    )]
    Guessed,
}

/// Whether a password can be an account's: long enough, and neither common nor soon guessed by somebody who knows `known` of its
/// owner.
///
/// # Errors
/// [`WeakPassword`].
pub fn check(password: &str, known: &[&str]) -> Result<(), WeakPassword> {
    if password.chars().count() < MIN_PASSWORD_LENGTH || password.len() > MAX_PASSWORD_LENGTH {
        return Err(WeakPassword::Length);
    }
    // An address is known by its parts too.
    let parts: Vec<&str> =
        known.iter().flat_map(|text| text.split(['@', '.', ' ', '-'])).chain(known.iter().copied()).collect();
    if zxcvbn(password, &parts).score() < Score::Three { Err(WeakPassword::Guessed) } else { Ok(()) }
}

/// Checked instead of an account that does not exist, so that both answers take as long.
static NOBODY: LazyLock<String> = LazyLock::new(|| hash("nobody has this password"));

fn hash(password: &str) -> String {
    Argon2::default().hash_password(password.as_bytes()).expect("the default parameters hash any password").to_string()
}

fn matches(password: &str, stored: &str) -> bool {
    PasswordHash::new(stored)
        .is_ok_and(|stored| Argon2::default().verify_password(password.as_bytes(), &stored).is_ok())
}

impl PasswordDesk {
    /// The PHC string of a new password.
    pub async fn hash(&self, password: String) -> String {
        self.work(move || hash(&password)).await
    }

    /// Whether the password is the stored one; `None` stands for an account that does not exist.
    pub async fn matches(&self, password: String, stored: Option<String>) -> bool {
        // Somebody who does not exist takes as long as somebody who does.
        self.work(move || matches(&password, stored.as_deref().unwrap_or(&NOBODY)) && stored.is_some()).await
    }

    async fn work<T: Send + 'static>(&self, work: impl FnOnce() -> T + Send + 'static) -> T {
        let _turn = self.0.acquire().await.expect("the desk is never closed");
        tokio::task::spawn_blocking(work).await.expect("hashing does not panic")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[tokio::test]
    async fn a_password_matches_its_own_hash_and_nothing_else() {
        let desk = PasswordDesk::default();
        let stored = desk.hash("long enough to be one".to_owned()).await;
        assert!(stored.starts_with("$argon2id$"));
        assert!(desk.matches("long enough to be one".to_owned(), Some(stored.clone())).await);
        assert!(!desk.matches("long enough to be two".to_owned(), Some(stored)).await);
        assert!(!desk.matches("nobody has this password".to_owned(), None).await);
        assert!(!desk.matches("anything".to_owned(), Some("not a hash".to_owned())).await);
    }

    #[test]
    fn what_is_short_common_or_ones_own_name_is_not_taken() {
        let known = ["liddell@school.example", "Ms Liddell", "Hill School strings"];
        for good in ["copper lantern walks home", "wq7-Telgarth-ohm2"] {
            assert_eq!(check(good, &known), Ok(()), "{good}");
        }
        assert_eq!(check("short one", &known), Err(WeakPassword::Length));
        assert_eq!(check(&"long ".repeat(50), &known), Err(WeakPassword::Length));
        for weak in
            ["1234567890", "123456789012", "password1234", "aaaaaaaaaaaaaa", "liddell@school.example", "qwertyuiop12"]
        {
            assert!(check(weak, &known).is_err(), "{weak}");
        }
    }
}
