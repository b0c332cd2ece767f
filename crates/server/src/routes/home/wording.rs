//! What every card says, in the languages of a class's families too.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::IntoResponse;
use bright_row_core::craft::edits::Edits;
use bright_row_core::craft::family_wording::Language;
use bright_row_core::craft::home::HomePhrase;
use bright_row_store::classes::Class;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::error::ApiError;
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::extract::Body;
use crate::extract::based_on::{BasedOn, BasedOnHeaders, etag, version};
use crate::state::App;
use crate::use_cases::change_settings::change_edits;

/// A line of every card as it ships.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SharedLine {
    phrase: HomePhrase,
    text: String,
}

/// The lines of every card, and how the class words them in other languages.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct FamilyWordingView {
    /// As they ship, in the order of the card.
    lines: Vec<SharedLine>,
    /// By language, as BCP 47 writes it.
    languages: BTreeMap<Language, BTreeMap<HomePhrase, String>>,
    /// The version of `languages`.
    version: String,
}

/// The class's own wording; lines that are left out stand on cards as they ship only.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct FamilyWordingBody {
    /// By language, as BCP 47 writes it: `es`, `pt-BR`, `zh-Hans`.
    languages: BTreeMap<Language, BTreeMap<HomePhrase, String>>,
}

/// The lines of every card in the languages of families.
#[utoipa::path(get, path = "/api/classes/{class}/home/wording", tag = "home",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = FamilyWordingView),
        ForMembers,
    ))]
pub async fn family_wording(State(app): State<App>, member: Member) -> impl IntoResponse {
    let line = |phrase: &HomePhrase| SharedLine { phrase: *phrase, text: app.content.home.phrase(*phrase).to_owned() };
    let languages = member.class.edits.phrases.clone();
    let version = version(&languages);
    let lines = HomePhrase::ALL.iter().filter(|phrase| phrase.is_on_card()).map(line).collect();
    (etag(&version), Json(FamilyWordingView { lines, languages, version }))
}

/// Keeps the class's own wording of the lines of every card; directors only. It goes into the class's file too.
#[utoipa::path(put, path = "/api/classes/{class}/home/wording", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), BasedOnHeaders),
    request_body = FamilyWordingBody,
    responses(
        (status = 204, description = "Counts from now on"),
        ForDirectorsReplacing,
    ))]
pub async fn keep_family_wording(
    State(app): State<App>,
    Director(member): Director,
    based_on: BasedOn,
    Body(body): Body<FamilyWordingBody>,
) -> Result<StatusCode, ApiError> {
    let mut wanted = body.languages;
    for text in wanted.values_mut().flat_map(BTreeMap::values_mut) {
        *text = text.trim().to_owned();
    }
    let change = |edits: &mut Edits| {
        edits.phrases.clone_from(&wanted);
        Ok(())
    };
    let allow = |before: &Class, _: &Class| based_on.allow(Some(&before.edits.phrases), &wanted);
    change_edits(&app, &member, change, allow).await?;
    Ok(StatusCode::NO_CONTENT)
}
