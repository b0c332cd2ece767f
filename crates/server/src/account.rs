//! Accounts helped from the server's own command line.

use bright_row_core::deed::Deed;
use bright_row_store::accounts::{self, passkeys, second_factor};
use bright_row_store::database::{maintain, schema};
use chrono::Utc;

use crate::auth::deeds::note;
use crate::failure::{Failure, only_current};
use crate::use_cases::people::password_link;

/// Prints a link to a new password for the account of an address.
///
/// # Errors
/// [`Failure::NoAccount`], and what the database says.
pub async fn reset(database_url: &str, address: &str, without_second_factor: bool) -> Result<(), Failure> {
    let db = maintain(database_url).await?;
    only_current(schema(&db).await?)?;
    let now = Utc::now();
    let account = accounts::by_email(&db, &address.trim().to_lowercase()).await?;
    let account = account.ok_or_else(|| Failure::NoAccount(address.trim().to_owned()))?;
    let (secret, until) = password_link(&db, account.id, None, now).await?;
    if without_second_factor {
        second_factor::set(&db, account.id, None, &[]).await?;
        passkeys::remove_all(&db, account.id).await?;
    }
    for program in accounts::programs_of(&db, account.id, now).await? {
        let made = (Deed::PasswordLinkMade, "account", Some(account.id.uuid()));
        note(&db, program.id, now, None, made, None).await?;
    }
    println!("Open this on the server's address, once, until {}:", until.format("%Y-%m-%d %H:%M UTC"));
    println!("/new-password#{secret}");
    Ok(())
}
