//! The people of a program for an address book.

use axum::extract::State;
use bright_row_documents::vcard::{self, Contact};
use bright_row_store::accounts;
use bright_row_store::accounts::people::{self, Person};

use crate::auth::guard::Owner;
use crate::error::ApiError;
use crate::error::answers::ForOwners;
use crate::extract::files::Download;
use crate::state::App;

/// The people of a program as contacts, for an address book (vCard 3.0): names, addresses and roles; owners only.
///
/// Of families and children no address is kept, so none is in it; nor is a substitute, who has none.
#[utoipa::path(get, path = "/api/programs/{program}/people.vcf", tag = "people",
    params(("program" = Uuid, Path, description = "The program")),
    responses((status = 200, body = String, content_type = "text/vcard"), ForOwners))]
pub async fn contacts(State(app): State<App>, owner: Owner) -> Result<Download, ApiError> {
    let programs = accounts::programs_of(&app.db, owner.account, app.now()).await?;
    let here = programs.into_iter().find(|program| program.id == owner.program).map(|program| program.name);
    let people =
        people::of_program(&app.db, owner.program).await?.into_iter().filter(|person| !person.email.is_empty());
    let contacts: Vec<Contact> = people
        .map(|Person { account, display_name, email, role, .. }| Contact {
            id: account,
            name: display_name,
            email,
            role: role.word().to_owned(),
        })
        .collect();
    let bytes = vcard::write(&here.unwrap_or_default(), &contacts);
    Ok(Download { name: "people.vcf".to_owned(), kind: "text/vcard; charset=utf-8", bytes })
}
