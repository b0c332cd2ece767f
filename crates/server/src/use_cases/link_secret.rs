//! The secrets of links: whoever has one is let in by it, and only its hash is kept.

use bright_row_core::ProgramId;
use rand::Rng;
use sha2::{Digest, Sha256};
use uuid::Uuid;

use crate::digest::hex;

/// So many digits nobody guesses: 256 bits.
const DIGITS: usize = 64;

/// What is known of a link by its secret.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LinkSecret {
    /// What it is kept by.
    pub hash: Vec<u8>,
    /// Where it is looked for; links to new passwords name no program, nor do links that were made before links did.
    pub program: Option<ProgramId>,
}

impl LinkSecret {
    /// A new one, with the text that is shown once: the digits that nobody guesses, and behind them those of the program.
    #[must_use]
    pub fn new(program: Option<ProgramId>) -> (String, Self) {
        let mut bytes = [0; DIGITS / 2];
        rand::rng().fill_bytes(&mut bytes);
        let program = program.map(|program| program.uuid().simple().to_string()).unwrap_or_default();
        let text = format!("{}{program}", hex(&bytes));
        let secret = Self::read(&text);
        (text, secret)
    }

    /// Reads what stands in a link. Anything may: what is no secret of ours is found nowhere.
    #[must_use]
    pub fn read(text: &str) -> Self {
        let text = text.trim();
        let program = text.get(DIGITS..).and_then(|program| Uuid::try_parse(program).ok()).map(ProgramId::from);
        // With the program: under another one it is another secret.
        Self { hash: Sha256::digest(text).to_vec(), program }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_secret_is_read_as_it_was_made_and_names_its_program() {
        let program = ProgramId::from(Uuid::now_v7());
        let (text, secret) = LinkSecret::new(Some(program));
        assert_eq!((text.len(), secret.program), (96, Some(program)));
        assert_eq!(LinkSecret::read(&format!(" {text}\n")), secret);
        let (other, _) = LinkSecret::new(Some(program));
        assert_ne!(text[..DIGITS], other[..DIGITS]);
        let elsewhere = ProgramId::from(Uuid::now_v7());
        let moved = format!("{}{}", &text[..DIGITS], elsewhere.uuid().simple());
        assert_ne!(LinkSecret::read(&moved).hash, secret.hash);
    }

    #[test]
    fn one_without_a_program_is_looked_for_everywhere_and_whatever_else_comes_is_read_too() {
        let (text, secret) = LinkSecret::new(None);
        assert_eq!((text.len(), secret.program), (64, None));
        for odd in ["", "é".repeat(50).as_str(), &"a".repeat(64), &"a".repeat(70), &"\0".repeat(96)] {
            assert_eq!(LinkSecret::read(odd).program, None, "{odd:?}");
        }
    }
}
