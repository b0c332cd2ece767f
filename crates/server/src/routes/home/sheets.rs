//! Sheets for a family: the loan to sign, care of the instrument, another size, the luthier.

use axum::extract::State;
use bright_row_core::craft::home::HomeSheet;
use bright_row_core::setup::names::given_name;
use bright_row_documents::family_sheet::{FamilySheet, page};
use bright_row_store::instruments::{assets, loans};
use serde::Deserialize;
use utoipa::IntoParams;

use crate::auth::guard::MemberOfChild;
use crate::error::ApiError;
use crate::error::answers::ForMembersAsking;
use crate::extract::Query;
use crate::extract::files::{Download, PaperView};
use crate::state::App;

/// Which sheet, and how it is printed.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct SheetQuery {
    /// The loan, care of the instrument, another size, or the luthier.
    #[param(inline)]
    sheet: HomeSheet,
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
    /// In large print.
    #[serde(default)]
    large: bool,
}

/// A sheet for a child's family. A loan and a visit to the luthier are about an instrument that the child has.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/sheet.pdf", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), SheetQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn family_sheet_pdf(
    State(app): State<App>,
    found: MemberOfChild,
    Query(query): Query<SheetQuery>,
) -> Result<Download, ApiError> {
    let MemberOfChild { member, child } = found;
    let SheetQuery { sheet, paper, large } = query;
    let (class, instrument) = (&member.class, child.playing.now);
    let program = class.key.program;
    let lent = match loans::of_child(&app.db, program, child.id).await? {
        Some(loan) => assets::one(&app.db, program, loan.asset).await?,
        None => None,
    };
    if lent.is_none() && matches!(sheet, HomeSheet::Loan | HomeSheet::Luthier) {
        return Err(ApiError::NotFound("instrument on loan to this child"));
    }
    let texts = app.content.home.sheets.get(&sheet).and_then(|on| on.get(&instrument));
    let texts = texts.ok_or(ApiError::NotFound("sheet"))?;
    let name = given_name(&child.name);
    let (tag, size) = lent.map_or_else(Default::default, |asset| (asset.tag, asset.size));
    let filled = texts.filled(name, instrument, &tag);
    let about = [format!("{} {size}", instrument.name()), tag].map(|part| part.trim().to_owned());
    let about = [name.to_owned()].into_iter().chain(about).filter(|part| !part.is_empty()).collect::<Vec<_>>();
    let sheet_of_child = FamilySheet {
        school: class.program_name.clone(),
        title: filled.title,
        about: about.join(", "),
        lines: filled.lines,
        fields: filled.fields,
    };
    let name = format!("{}-sheet", sheet.word());
    app.readers.read(move || Download::pdf(&name, &[page(&sheet_of_child, paper.into(), large)])).await?
}
