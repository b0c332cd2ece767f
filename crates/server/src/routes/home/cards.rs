//! Family cards to print: one child's, a section's, the whole class's.

use axum::extract::State;
use bright_row_core::craft::instrument::Instrument;
use bright_row_documents::family_card::{draw, html, sheets};
use bright_row_documents::pdf::Drawing;
use bright_row_store::children::context;
use serde::Deserialize;
use utoipa::IntoParams;

use crate::auth::client::OwnAddress;
use crate::auth::guard::{Member, MemberOfChild};
use crate::error::ApiError;
use crate::error::answers::{ForMembers, ForMembersAsking};
use crate::extract::Query;
use crate::extract::files::{Download, PaperView};
use crate::state::App;
use crate::use_cases::at_home::ClassAtHome;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

/// How a card is printed.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CardQuery {
    /// A4 by default; a card takes half a sheet.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
    /// In large print, on a whole sheet.
    #[serde(default)]
    large: bool,
}

/// Which cards are printed, and how.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CardsQuery {
    /// A4 by default; two cards share a sheet.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
    /// In large print, each on a whole sheet.
    #[serde(default)]
    large: bool,
    /// Only those who play it; all by default.
    #[param(inline)]
    section: Option<Instrument>,
}

/// A child's card for the family: what it shows this week, and boxes to tick.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/family-card.pdf", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child"), CardQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn family_card_pdf(
    State(app): State<App>,
    found: MemberOfChild,
    OwnAddress(origin): OwnAddress,
    Query(query): Query<CardQuery>,
) -> Result<Download, ApiError> {
    let MemberOfChild { member, child } = found;
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let own = context::own_look_fors(&app.db, member.class.key).await?;
    let card = at_home.card(&learner, &own, Some(&origin))?;
    let CardQuery { paper, large } = query;
    // The name of the file names no child: it may lie in a folder that others see.
    let large = large || card.large;
    let page = move || if large { sheets(&[card], paper.into(), true) } else { vec![draw(&card, paper.into())] };
    printed(&app, "family-card", page).await
}

/// A child's card as a page of its own, to be sent or read aloud by a browser.
#[utoipa::path(get, path = "/api/classes/{class}/children/{child}/family-card.html", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), ("child" = Uuid, Path, description = "The child")),
    responses(
        (status = 200, body = String, content_type = "text/html"),
        ForMembers,
    ))]
pub async fn family_card_html(State(app): State<App>, found: MemberOfChild) -> Result<Download, ApiError> {
    let MemberOfChild { member, child } = found;
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let learner = at_home.snapshot.learner(child.id).await?.ok_or(ApiError::NotFound("child"))?;
    let own = context::own_look_fors(&app.db, member.class.key).await?;
    let page = html(&at_home.card(&learner, &own, None)?);
    Ok(Download { name: "family-card.html".to_owned(), kind: "text/html; charset=utf-8", bytes: page.into() })
}

/// The cards of a class or a section, by seat, as one file.
#[utoipa::path(get, path = "/api/classes/{class}/home/cards.pdf", tag = "home",
    params(("class" = Uuid, Path, description = "The class"), CardsQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn family_cards_pdf(
    State(app): State<App>,
    member: Member,
    OwnAddress(origin): OwnAddress,
    Query(query): Query<CardsQuery>,
) -> Result<Download, ApiError> {
    let CardsQuery { paper, large, section } = query;
    let at_home = ClassAtHome::read(ClassSnapshot::new(&app, &member.class)).await?;
    let mut learners = at_home.snapshot.learners().await?;
    learners.retain(|learner| section.is_none_or(|section| learner.child.playing.now == section));
    learners.sort_by_cached_key(Learner::walking_key);
    let own = context::own_look_fors(&app.db, member.class.key).await?;
    let cards =
        learners.iter().map(|learner| at_home.card(learner, &own, Some(&origin))).collect::<Result<Vec<_>, _>>()?;
    printed(&app, "family-cards", move || sheets(&cards, paper.into(), large)).await
}

/// Pages drawn and written where reading of files has its own threads: it keeps no other request waiting.
async fn printed(
    app: &App,
    name: &'static str,
    draw: impl FnOnce() -> Vec<Drawing> + Send + 'static,
) -> Result<Download, ApiError> {
    app.readers.read(move || Download::pdf(name, &draw())).await?
}
