//! The program's store room: instruments, and who has them.

use crate::extract::based_on::{BasedOn, BasedOnHeaders, version};
use crate::extract::fields::Fields;
use crate::use_cases::store_instruments::store_instruments;
use bright_row_core::setup::matching::MAX_CONDITION_NOTE_LENGTH;
use bright_row_core::setup::matching::MAX_FITTING_LENGTH;
use bright_row_core::setup::matching::MAX_SIZE_LENGTH;
use bright_row_core::setup::matching::MAX_TAG_LENGTH;
use bright_row_core::tapes::new_entry::length_fault;
use bright_row_store::classes;
use bright_row_store::instruments::loans;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts, STRING_HEIGHTS_MM};
use bright_row_core::day::Day;
use bright_row_core::{AssetId, ClassId};
use bright_row_store::instruments::assets::{self, Asset};
use chrono::NaiveDate;

use crate::error::ApiError;
use crate::error::answers::{ForDirectorsReplacing, ForMembers};
use crate::extract::{AssetInPath, Body};

use super::instrument_views::{AssetBody, AssetView, Inventory, LoanView, SizeView, SizesView};
use crate::auth::guard::{Director, Member};
use crate::state::App;

/// The instruments of the class's program.
#[utoipa::path(get, path = "/api/classes/{class}/instruments", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Inventory),
        ForMembers,
    ))]
pub async fn instruments(State(app): State<App>, member: Member) -> Result<Json<Inventory>, ApiError> {
    let program = member.class.key.program;
    let mut lent = loans::lent(&app.db, program).await?;
    let opens = opens(&app, &member).await?;
    let assets = assets::all(&app.db, program).await?.into_iter().map(|asset| {
        let (id, loan) = (asset.id, lent.remove(&asset.id));
        let loan = loan.map(|loan| LoanView::seen_by(loan, &opens));
        let asset = AssetBody::from(asset);
        AssetView { id, version: version(&asset), loan, asset }
    });
    let size = |facts: &InstrumentFacts| SizesView {
        instrument: facts.instrument,
        sizes: facts
            .sizes
            .iter()
            .map(|size| SizeView { name: size.name.clone(), string_length_mm: size.string_length_mm })
            .collect(),
        string_height_mm: facts.string_height_mm,
    };
    Ok(Json(Inventory { assets: assets.collect(), sizes: app.content.instruments.values().map(size).collect() }))
}

/// Everybody who has or had an instrument, newest first.
#[utoipa::path(get, path = "/api/classes/{class}/instruments/{asset}/loans", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), ("asset" = Uuid, Path, description = "The instrument")),
    responses(
        (status = 200, body = Vec<LoanView>),
        ForMembers,
    ))]
pub async fn loans(
    State(app): State<App>,
    member: Member,
    AssetInPath(asset): AssetInPath,
) -> Result<Json<Vec<LoanView>>, ApiError> {
    let program = member.class.key.program;
    if assets::one(&app.db, program, asset).await?.is_none() {
        return Err(ApiError::NotFound("instrument"));
    }
    let loans = loans::history(&app.db, program, asset).await?;
    let opens = opens(&app, &member).await?;
    Ok(Json(loans.into_iter().map(|loan| LoanView::seen_by(loan, &opens)).collect()))
}

/// The classes that the one who asks may open.
async fn opens(app: &App, member: &Member) -> Result<BTreeSet<ClassId>, ApiError> {
    let opened = classes::all_for_account(&app.db, member.account, app.now()).await?;
    Ok(opened.into_iter().map(|opened| opened.class.key.class).collect())
}

/// What makes an instrument that can be kept.
pub(crate) struct AssetChecks<'a> {
    pub(crate) facts: &'a BTreeMap<Instrument, InstrumentFacts>,
    pub(crate) today: NaiveDate,
}

impl AssetChecks<'_> {
    pub(crate) fn read(&self, id: AssetId, body: &AssetBody, fields: &mut Fields) -> Asset {
        let tag = fields.line::<MAX_TAG_LENGTH>("tag", &body.tag);
        fields.require(!body.tag.trim().is_empty(), "tag", "Type the tag on the instrument, such as C-07.");
        let size = fields.line::<MAX_SIZE_LENGTH>("size", &body.size);
        let facts = &self.facts[&body.instrument];
        let known: Vec<&str> = facts.sizes.iter().map(|size| size.name.as_str()).collect();
        let words = format!("A {} is {}.", body.instrument.name(), known.join(", "));
        fields.require(facts.size(&size).is_some(), "size", words);
        let fault = body.string_length_mm.and_then(|mm| length_fault(self.facts, body.instrument, &size, mm));
        if let Some(fault) = fault {
            fields.fault("stringLengthMm", fault);
        }
        let height = body.string_height_mm;
        let words = "Strings are 0.5 to 20 mm over the fingerboard: measure at the third finger.";
        fields.require(height.is_none_or(|mm| STRING_HEIGHTS_MM.contains(&mm)), "stringHeightMm", words);
        Asset {
            id,
            tag,
            instrument: body.instrument,
            size,
            string_length_mm: body.string_length_mm,
            string_height_mm: height,
            condition: body.condition,
            condition_note: fields.line::<MAX_CONDITION_NOTE_LENGTH>("conditionNote", &body.condition_note),
            condition_since: body.condition_since.map_or(self.today, Day::date),
            bow: body.bow,
            support: fields.line::<MAX_FITTING_LENGTH>("support", &body.support),
            pin_anchor: fields.line::<MAX_FITTING_LENGTH>("pinAnchor", &body.pin_anchor),
            case: body.case,
        }
    }
}

/// Adds an instrument, or changes the one of this id; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/instruments/{asset}", tag = "set-up",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("asset" = Uuid, Path, description = "The instrument; made by the page for a new one"),
        BasedOnHeaders,
    ),
    request_body = AssetBody,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsReplacing,
    ))]
pub async fn keep_instrument(
    State(app): State<App>,
    Director(member): Director,
    AssetInPath(id): AssetInPath,
    based_on: BasedOn,
    Body(body): Body<AssetBody>,
) -> Result<StatusCode, ApiError> {
    let checks = AssetChecks { facts: &app.content.instruments, today: member.class.calendar.day_of(app.now()) };
    let opens = opens(&app, &member).await?;
    store_instruments(&app, &member, None, &BTreeMap::new(), |known, lent, _| {
        let mut fields = Fields::default();
        let asset = checks.read(id, &body, &mut fields);
        let before = known.iter().find(|known| known.id == asset.id);
        // A kind that somebody plays does not change under their hands.
        if let Some(loan) = lent.get(&asset.id).cloned() {
            let loan = LoanView::seen_by(loan, &opens);
            let same_kind = before.is_none_or(|before| before.instrument == asset.instrument);
            let words = format!("{} has this instrument: let it be given back first.", loan.name);
            fields.require(same_kind, "instrument", words);
        }
        fields.finish()?;
        based_on.allow(before.cloned().map(AssetBody::from).as_ref(), &AssetBody::from(asset.clone()))?;
        Ok(((), Some(vec![asset])))
    })
    .await?;
    Ok(StatusCode::NO_CONTENT)
}
