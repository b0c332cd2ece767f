//! The program's store room: instruments, who has them, tags to print, and the inventory as a file.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::setup::matching::Condition;
use bright_row_core::setup::sizing::FAR_LENGTH;
use bright_row_core::{AssetId, ChildId, ClassId};
use bright_row_documents::labels::{Label, sheets};
use bright_row_store::instruments::assets::{self, Asset, Loan};
use bright_row_store::accounts::Made;
use bright_row_store::{StoreError, TransactionTrait};
use chrono::{DateTime, NaiveDate, Utc};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::routes::calc::tapes::likely;
use crate::extract::{AssetInPath, Body, Query};
use crate::extract::files::{Download, PaperView};
use crate::error::{ApiError, FieldError, ForDirectorsWriting, ForMembers, ForMembersAsking};
use crate::routes::views::InstrumentView;
use crate::state::App;
use crate::auth::guard::{Director, Member};

/// The program's instruments.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Inventory {
    /// By tag.
    assets: Vec<AssetView>,
    /// The sizes of each kind, largest first.
    sizes: Vec<SizesView>,
}

/// The sizes of a kind.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SizesView {
    instrument: InstrumentView,
    /// Largest first.
    sizes: Vec<SizeView>,
}

/// A size.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SizeView {
    name: String,
    /// The usual string length, until this very instrument is measured.
    string_length_mm: f64,
}

/// How an instrument is.
#[derive(Clone, Copy, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum ConditionView {
    /// Plays well.
    Good,
    /// Plays.
    Fair,
    /// Out for repair.
    Repair,
}

impl From<Condition> for ConditionView {
    fn from(condition: Condition) -> Self {
        match condition {
            Condition::Good => Self::Good,
            Condition::Fair => Self::Fair,
            Condition::Repair => Self::Repair,
        }
    }
}

impl From<ConditionView> for Condition {
    fn from(view: ConditionView) -> Self {
        match view {
            ConditionView::Good => Self::Good,
            ConditionView::Fair => Self::Fair,
            ConditionView::Repair => Self::Repair,
        }
    }
}

/// What is kept of an instrument.
#[derive(Clone, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AssetBody {
    /// The tag on it, one of its kind in the program.
    pub(super) tag: String,
    pub(super) instrument: InstrumentView,
    pub(super) size: String,
    /// Nut to bridge, measured on this very instrument.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub(super) string_length_mm: Option<f64>,
    pub(super) condition: ConditionView,
    #[serde(default)]
    pub(super) condition_note: String,
    /// Since when it is so; today where absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub(super) condition_since: Option<NaiveDate>,
    pub(super) bow: bool,
    /// A sponge or rest kept with it; empty for none.
    #[serde(default)]
    pub(super) support: String,
    /// A stop or strap kept with it; empty for none.
    #[serde(default)]
    pub(super) pin_anchor: String,
    pub(super) case: bool,
}

/// An instrument.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct AssetView {
    #[schema(value_type = Uuid)]
    id: AssetId,
    #[serde(flatten)]
    asset: AssetBody,
    /// Who has it.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    loan: Option<LoanView>,
}

/// Who has an instrument, or had it.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LoanView {
    #[schema(value_type = Uuid)]
    child: ChildId,
    name: String,
    #[schema(value_type = Uuid)]
    class_id: ClassId,
    class_name: String,
    since: DateTime<Utc>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    until: Option<DateTime<Utc>>,
    locked: bool,
}

impl From<Loan> for LoanView {
    fn from(loan: Loan) -> Self {
        let Loan { child, name, class, class_name, since, until, locked, .. } = loan;
        Self { child, name, class_id: class, class_name, since, until, locked }
    }
}

impl From<Asset> for AssetBody {
    fn from(asset: Asset) -> Self {
        Self {
            tag: asset.tag,
            instrument: asset.instrument.into(),
            size: asset.size,
            string_length_mm: asset.string_length_mm,
            condition: asset.condition.into(),
            condition_note: asset.condition_note,
            condition_since: Some(asset.condition_since),
            bow: asset.bow,
            support: asset.support,
            pin_anchor: asset.pin_anchor,
            case: asset.case,
        }
    }
}

/// The instruments of the class's program.
#[utoipa::path(get, path = "/api/classes/{class}/instruments", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Inventory),
        ForMembers,
    ))]
pub async fn instruments(State(app): State<App>, member: Member) -> Result<Json<Inventory>, ApiError> {
    let program = member.class.key.program;
    let mut lent = assets::lent(&app.db, program).await?;
    let assets = assets::all(&app.db, program).await?.into_iter().map(|asset| AssetView {
        id: asset.id,
        loan: lent.remove(&asset.id).map(Into::into),
        asset: asset.into(),
    });
    let size = |facts: &InstrumentFacts| SizesView {
        instrument: facts.instrument.into(),
        sizes: facts
            .sizes
            .iter()
            .map(|size| SizeView { name: size.name.clone(), string_length_mm: size.string_length_mm })
            .collect(),
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
    if !assets::all(&app.db, program).await?.iter().any(|known| known.id == asset) {
        return Err(ApiError::NotFound("instrument"));
    }
    let loans = assets::history(&app.db, program, asset).await?;
    Ok(Json(loans.into_iter().map(Into::into).collect()))
}

/// What makes an instrument that can be kept.
pub(super) struct Checks<'a> {
    pub(super) facts: &'a BTreeMap<Instrument, InstrumentFacts>,
    pub(super) today: NaiveDate,
}

impl Checks<'_> {
    pub(super) fn read(&self, id: AssetId, body: &AssetBody, errors: &mut Vec<FieldError>) -> Asset {
        let mut text = |text: &str, field: &str, most: usize| {
            let text = text.trim().to_owned();
            if text.chars().count() > most || text.chars().any(char::is_control) {
                errors.push(FieldError::new(field, format!("At most {most} plain characters.")));
            }
            text
        };
        let (tag, size) = (text(&body.tag, "tag", 20), text(&body.size, "size", 10));
        let condition_note = text(&body.condition_note, "conditionNote", 200);
        let (support, pin_anchor) = (text(&body.support, "support", 40), text(&body.pin_anchor, "pinAnchor", 40));
        if tag.is_empty() {
            errors.push(FieldError::new("tag", "Type the tag on the instrument, such as C-07."));
        }
        let instrument = Instrument::from(body.instrument);
        if self.facts[&instrument].size(&size).is_none() {
            let known: Vec<&str> = self.facts[&instrument].sizes.iter().map(|size| size.name.as_str()).collect();
            errors.push(FieldError::new("size", format!("A {} is {}.", instrument.name(), known.join(", "))));
        }
        if let Some(mm) = body.string_length_mm {
            errors.extend(self.length_fault(instrument, &size, mm));
        }
        Asset {
            id,
            tag,
            instrument,
            size,
            string_length_mm: body.string_length_mm,
            condition: body.condition.into(),
            condition_note,
            condition_since: body.condition_since.unwrap_or(self.today),
            bow: body.bow,
            support,
            pin_anchor,
            case: body.case,
        }
    }

    /// A string is near the usual length of its size; far from it something was mistyped or the size is another.
    pub(super) fn length_fault(&self, instrument: Instrument, size: &str, mm: f64) -> Option<FieldError> {
        let facts = &self.facts[&instrument];
        let usual = facts.size(size)?.string_length_mm;
        if (mm - usual).abs() <= usual * FAR_LENGTH {
            return None;
        }
        let also = likely(self.facts, instrument, Some(size), mm).map(|also| format!(" {also}")).unwrap_or_default();
        let words =
            format!("A {} {size} has some {usual:.0} mm from nut to bridge: measure again.{also}", instrument.name());
        Some(FieldError::new("stringLengthMm", words))
    }
}

pub(super) fn tag_taken(error: StoreError) -> ApiError {
    match error {
        StoreError::Conflict => {
            ApiError::Invalid(vec![FieldError::new("tag", "Another instrument has this tag. Give each its own.")])
        }
        other => ApiError::Store(other),
    }
}

/// Adds an instrument, or changes the one of this id; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/instruments/{asset}", tag = "set-up",
    params(
        ("class" = Uuid, Path, description = "The class"),
        ("asset" = Uuid, Path, description = "The instrument; made by the page for a new one"),
    ),
    request_body = AssetBody,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn keep_instrument(
    State(app): State<App>,
    Director(member): Director,
    AssetInPath(id): AssetInPath,
    Body(body): Body<AssetBody>,
) -> Result<StatusCode, ApiError> {
    let program = member.class.key.program;
    let today = member.class.calendar.day_of(app.now());
    let mut errors = Vec::new();
    let asset = Checks { facts: &app.content.instruments, today }.read(id, &body, &mut errors);
    // A kind that somebody plays does not change under their hands.
    if let Some(loan) = assets::lent(&app.db, program).await?.get(&asset.id) {
        let before = assets::all(&app.db, program).await?.into_iter().find(|known| known.id == asset.id);
        if before.is_some_and(|before| before.instrument != asset.instrument) {
            let words = format!("{} has this instrument: let it be given back first.", loan.name);
            errors.push(FieldError::new("instrument", words));
        }
    }
    if !errors.is_empty() {
        return Err(ApiError::Invalid(errors));
    }
    let tx = app.db.begin().await.map_err(StoreError::from)?;
    let made = Made { by: member.account, at: app.now() };
    assets::keep(&tx, program, &[asset], made).await.map_err(tag_taken)?;
    tx.commit().await.map_err(StoreError::from)?;
    app.live.changed(member.class.key.class);
    Ok(StatusCode::NO_CONTENT)
}

/// Which tags, where to, on what paper.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct LabelQuery {
    /// A4 unless told otherwise.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
    /// The address that people reach this server by, `https://strings.school.example`.
    origin: String,
    /// Only this instrument; all where it is absent.
    asset: Option<Uuid>,
}

/// Tags with codes that open the instruments' pages, on sheets to print.
#[utoipa::path(get, path = "/api/classes/{class}/labels.pdf", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), LabelQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn labels(
    State(app): State<App>,
    member: Member,
    Query(query): Query<LabelQuery>,
) -> Result<Download, ApiError> {
    let is_address = query.origin.starts_with("https://") || query.origin.starts_with("http://");
    if !is_address || query.origin.len() > 120 || query.origin.chars().any(|c| c.is_control() || c == ' ') {
        return Err(ApiError::Invalid(vec![FieldError::new("origin", "Give an address that begins with https://.")]));
    }
    let class = &member.class;
    let assets = assets::all(&app.db, class.key.program).await?.into_iter();
    let assets = assets.filter(|asset| query.asset.is_none_or(|only| asset.id.uuid() == only));
    let label = |asset: Asset| Label {
        what: format!("{} {}", asset.instrument.name(), asset.size),
        address: format!(
            "{}/class/{}/set-up/instruments/{}",
            query.origin.trim_end_matches('/'),
            class.key.class,
            asset.id
        ),
        owner: class.program_name.clone(),
        tag: asset.tag,
    };
    let labels: Vec<Label> = assets.map(label).collect();
    if labels.is_empty() {
        return Err(ApiError::NotFound("instrument"));
    }
    Download::pdf("tags", &sheets(&labels, query.paper.into()))
}
