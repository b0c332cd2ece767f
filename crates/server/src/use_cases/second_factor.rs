//! The second factor: codes of a second device (RFC 6238), and recovery codes for when it is lost.

use bright_row_core::AccountId;
use bright_row_store::accounts::{passkeys, second_factor};
use rand::Rng;
use sha2::{Digest, Sha256};
use totp_rs::{Builder, Secret, Totp};

use crate::error::ApiError;
use crate::state::App;

/// Bytes of a secret, as the RFC recommends.
const SECRET_BYTES: usize = 20;
/// Recovery codes made at once.
const RECOVERY_CODES: usize = 8;
/// Letters and digits that are not mistaken for each other.
const LETTERS: &[u8; 31] = b"abcdefghjkmnpqrstuvwxyz23456789";

/// A new secret.
#[must_use]
pub fn new_secret() -> Vec<u8> {
    let mut secret = vec![0; SECRET_BYTES];
    rand::rng().fill_bytes(&mut secret);
    secret
}

/// A secret as it is typed, base 32; `None` for none.
#[must_use]
pub fn read_secret(text: &str) -> Option<Vec<u8>> {
    let secret = Secret::try_from_base32(text.trim()).ok()?.as_ref().to_vec();
    (16..=64).contains(&secret.len()).then_some(secret)
}

/// A secret to be typed, base 32.
#[must_use]
pub fn write_secret(secret: &[u8]) -> String {
    Secret::from(secret.to_vec().into_boxed_slice()).to_base32()
}

fn codes_of(secret: &[u8]) -> Totp {
    Builder::new().with_secret(secret.to_vec().into_boxed_slice()).build_noncompliant()
}

/// The step of time whose code this is; `None` for none of now, the one before and the one after.
fn step_of(secret: &[u8], code: &str, seconds: i64) -> Option<i64> {
    let digits: String = code.chars().filter(|c| !c.is_whitespace()).collect();
    let step = codes_of(secret).check(&digits, u64::try_from(seconds).ok()?)?;
    i64::try_from(step).ok()
}

/// The code of a moment.
#[must_use]
pub fn code_at(secret: &[u8], seconds: i64) -> String {
    codes_of(secret).generate(u64::try_from(seconds).unwrap_or_default()).to_string()
}

fn recovery_hash(code: &str) -> Vec<u8> {
    let plain: String = code.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect();
    Sha256::digest(plain).to_vec()
}

/// Whether a code is good for an account, which has a second factor or needs none. Each code is good once.
///
/// # Errors
/// [`ApiError::CodeWanted`], [`ApiError::WrongCode`].
pub async fn check(app: &App, account: AccountId, code: &str) -> Result<(), ApiError> {
    let secret = second_factor::secret(&app.sessions, account).await?;
    if secret.is_none() && passkeys::count(&app.sessions, account).await? == 0 {
        return Ok(());
    }
    if code.trim().is_empty() {
        return Err(ApiError::CodeWanted);
    }
    if let Some(step) = secret.and_then(|secret| step_of(&secret, code, app.now().timestamp())) {
        let first = second_factor::take_step(&app.sessions, account, step).await?;
        return if first { Ok(()) } else { Err(ApiError::WrongCode) };
    }
    let taken = second_factor::take_recovery_code(&app.sessions, account, &recovery_hash(code)).await?;
    if taken { Ok(()) } else { Err(ApiError::WrongCode) }
}

/// Asks an account for codes of this secret from now on, once a code shows that the second device has it; answers the recovery
/// codes, which are shown this once.
///
/// # Errors
/// [`ApiError::WrongCode`].
pub async fn turn_on(app: &App, account: AccountId, secret: &[u8], code: &str) -> Result<Vec<String>, ApiError> {
    let step = step_of(secret, code, app.now().timestamp()).ok_or(ApiError::WrongCode)?;
    let (codes, hashes) = new_recovery_codes();
    second_factor::set(&app.db, account, Some(secret), &hashes).await?;
    second_factor::take_step(&app.db, account, step).await?;
    Ok(codes)
}

/// New recovery codes, and what is kept of each.
#[must_use]
pub fn new_recovery_codes() -> (Vec<String>, Vec<Vec<u8>>) {
    let letter = || char::from(LETTERS[usize::from(rand::rng().next_u32().to_le_bytes()[0] % 31)]);
    let code = || (0..3).map(|_| (0..4).map(|_| letter()).collect::<String>()).collect::<Vec<_>>().join("-");
    let codes: Vec<String> = (0..RECOVERY_CODES).map(|_| code()).collect();
    let hashes = codes.iter().map(|code| recovery_hash(code)).collect();
    (codes, hashes)
}

/// Asks an account for no code any more; recovery codes stay good where it has passkeys.
///
/// # Errors
/// [`ApiError::Store`].
pub async fn turn_off(app: &App, account: AccountId) -> Result<(), ApiError> {
    second_factor::set_secret(&app.db, account, None).await?;
    if passkeys::count(&app.db, account).await? == 0 {
        second_factor::set_recovery_codes(&app.db, account, &[]).await?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn codes_are_those_of_the_rfc_and_good_for_a_step_around() {
        // RFC 6238, appendix B: the last six of the eight digits.
        let secret = b"12345678901234567890";
        for (seconds, code) in [(59, "287082"), (1_111_111_109, "081804"), (20_000_000_000, "353130")] {
            assert_eq!(code_at(secret, seconds), code);
            assert_eq!(step_of(secret, code, seconds), Some(seconds / 30));
            assert_eq!(step_of(secret, &format!(" {} {}", &code[..3], &code[3..]), seconds + 30), Some(seconds / 30));
            assert_eq!(step_of(secret, code, seconds + 90), None);
        }
        for none in ["", "28708", "2870822", "abcdef", "\0\0\0\0\0\0"] {
            assert_eq!(step_of(secret, none, 59), None, "{none}");
        }
    }

    #[test]
    fn a_recovery_code_is_the_same_however_it_is_typed() {
        assert_eq!(recovery_hash("ABCD-efgh-2345"), recovery_hash("abcd efgh 2345"));
        assert_ne!(recovery_hash("abcd-efgh-2345"), recovery_hash("abcd-efgh-2346"));
        assert_ne!(new_secret(), new_secret());
    }
}
