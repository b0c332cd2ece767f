//! Supplies: what the class needs, what is in store, what to buy.

use bright_row_store::live::Topic;
use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use bright_row_core::craft::approach::SUPPORT;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::setup::matching::{Condition, Shortfall};
use bright_row_core::setup::supplies::{Item, Line, Support, supplies};
use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use bright_row_documents::list::{Column, pages};
use bright_row_store::children;
use bright_row_store::instruments::{assets, stock};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::auth::guard::{Director, Member};
use crate::error::answers::{ForDirectorsWriting, ForMembers};
use crate::error::{ApiError, FieldError};
use crate::extract::files::{Download, PaperQuery};
use crate::extract::{Body, Query};
use crate::routes::setup::matching::match_of;
use crate::state::App;

/// What the class needs.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SuppliesView {
    lines: Vec<LineView>,
}

/// A line of the list.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LineView {
    /// `tape`; `instrument` for an instrument that is missing.
    key: String,
    name: String,
    /// `m` or `pieces`.
    unit: String,
    needed: f64,
    in_store: f64,
    to_buy: f64,
    /// Whether what is in store is typed here; bows and instruments are counted in the inventory.
    counted_here: bool,
}

/// What an item is called, and its unit.
fn name(line: &Line) -> (String, &'static str) {
    match line.item {
        Item::Tape => ("Tape from the roll, waste counted in".to_owned(), "m"),
        Item::Strips(instrument) => {
            let mm = line.strip_mm.unwrap_or_default();
            (format!("Strips for {}, {mm} mm each, cut from it", plural(instrument)), "pieces")
        }
        Item::NeckSpots => ("Felt spots for cello and bass necks".to_owned(), "pieces"),
        Item::Sponges => ("Sponges for violins and violas".to_owned(), "pieces"),
        Item::ShoulderRests => ("Shoulder rests for violins and violas".to_owned(), "pieces"),
        Item::PinAnchors => ("Stops or straps for cello pins".to_owned(), "pieces"),
        Item::Stools => ("Stools for basses".to_owned(), "pieces"),
        Item::Rosin => ("Rosin for violin, viola and cello bows".to_owned(), "pieces"),
        Item::BassRosin => ("Rosin for bass bows".to_owned(), "pieces"),
        Item::Bows(instrument) => (format!("Bows for {}", plural(instrument)), "pieces"),
    }
}

fn plural(instrument: Instrument) -> &'static str {
    match instrument {
        Instrument::Violin => "violins",
        Instrument::Viola => "violas",
        Instrument::Cello => "cellos",
        Instrument::Bass => "basses",
    }
}

fn line_view(line: &Line) -> LineView {
    let (name, unit) = name(line);
    LineView {
        key: line.item.key(),
        name,
        unit: unit.to_owned(),
        needed: line.needed,
        in_store: line.in_store,
        to_buy: line.to_buy,
        counted_here: !matches!(line.item, Item::Bows(_) | Item::Strips(_)),
    }
}

/// An instrument that the class needs and the store does not have.
fn missing_view(missing: &Shortfall) -> LineView {
    let count = f64::from(u32::try_from(missing.count).unwrap_or(u32::MAX));
    LineView {
        key: "instrument".to_owned(),
        name: format!("{} {}", missing.instrument.name(), missing.size),
        unit: "pieces".to_owned(),
        needed: count,
        in_store: 0.0,
        to_buy: count,
        counted_here: false,
    }
}

fn support_of(app: &App, member: &Member) -> Support {
    match app.content.approach.chosen(SUPPORT, &member.class.choices).map(|option| option.id.as_str()) {
        Some("shoulder-rest") => Support::ShoulderRest,
        Some("bare") => Support::Bare,
        _ => Support::Sponge,
    }
}

async fn lines(app: &App, member: &Member) -> Result<Vec<LineView>, ApiError> {
    let key = member.class.key;
    let mut players: BTreeMap<Instrument, u32> = BTreeMap::new();
    for child in children::of_class(&app.db, key).await? {
        *players.entry(child.playing.now).or_default() += 1;
    }
    let mut counted = stock::of_program(&app.db, key.program).await?;
    for asset in assets::all(&app.db, key.program).await? {
        if asset.bow && asset.condition != Condition::Repair {
            *counted.entry(Item::Bows(asset.instrument)).or_default() += 1.0;
        }
    }
    let shortfall = match_of(app, key).await?.found.shortfall;
    // Only strips are cut from tape.
    let strips = |set: &MarkerSet| {
        if set.kind == MarkerKind::Tapes { u32::try_from(set.fingers().len()).unwrap_or_default() } else { 0 }
    };
    let markers = app.marker_sets(&member.class).iter().map(|(on, set)| (*on, strips(set))).collect();
    let supplies = supplies(&app.content.instruments, &players, &markers, support_of(app, member), &counted);
    Ok(supplies.iter().map(line_view).chain(shortfall.iter().map(missing_view)).collect())
}

/// What the class needs as it is, with instruments that are missing.
#[utoipa::path(get, path = "/api/classes/{class}/supplies", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = SuppliesView),
        ForMembers,
    ))]
pub async fn supplies_view(State(app): State<App>, member: Member) -> Result<Json<SuppliesView>, ApiError> {
    Ok(Json(SuppliesView { lines: lines(&app, &member).await? }))
}

/// What was counted.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct Counted {
    /// The line's key.
    key: String,
    quantity: f64,
}

/// Keeps what was counted of an item in the store room; directors only.
#[utoipa::path(put, path = "/api/classes/{class}/supplies", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = Counted,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn count_supplies(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<Counted>,
) -> Result<StatusCode, ApiError> {
    let item = Item::parse(&body.key).filter(|item| !matches!(item, Item::Bows(_) | Item::Strips(_)));
    let Some(item) = item else {
        return Err(ApiError::Invalid(vec![FieldError::new("key", "This is not counted here.")]));
    };
    if !(0.0..=100_000.0).contains(&body.quantity) {
        return Err(ApiError::Invalid(vec![FieldError::new("quantity", "Type a number from 0 to 100000.")]));
    }
    stock::set(&app.db, member.class.key.program, item, body.quantity).await?;
    app.live.changed(member.class.key.class, Topic::Class);
    Ok(StatusCode::NO_CONTENT)
}

fn shown(quantity: f64) -> String {
    if (quantity - quantity.round()).abs() < 1e-9 { format!("{quantity:.0}") } else { format!("{quantity:.1}") }
}

const HEADINGS: [&str; 5] = ["Item", "Unit", "Needed", "In store", "To buy"];

/// The list as a file.
#[utoipa::path(get, path = "/api/classes/{class}/supplies.csv", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = String, content_type = "text/csv"),
        ForMembers,
    ))]
pub async fn supplies_csv(State(app): State<App>, member: Member) -> Result<Download, ApiError> {
    let rows = supplies_rows(&app, &member).await?;
    Ok(Download::csv("supplies", &rows))
}

/// The same as a workbook.
#[utoipa::path(get, path = "/api/classes/{class}/supplies.xlsx", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
        ForMembers,
    ))]
pub async fn supplies_xlsx(State(app): State<App>, member: Member) -> Result<Download, ApiError> {
    Download::workbook("supplies", "Supplies", supplies_rows(&app, &member).await?)
}

/// The same rows for every kind of file, the headings first.
async fn supplies_rows(app: &App, member: &Member) -> Result<Vec<Vec<String>>, ApiError> {
    let mut rows = vec![HEADINGS.map(str::to_owned).to_vec()];
    rows.extend(
        lines(app, member)
            .await?
            .into_iter()
            .map(|line| vec![line.name, line.unit, shown(line.needed), shown(line.in_store), shown(line.to_buy)]),
    );
    Ok(rows)
}

/// What to buy, to print.
#[utoipa::path(get, path = "/api/classes/{class}/order-list.pdf", tag = "set-up",
    params(("class" = Uuid, Path, description = "The class"), PaperQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembers,
    ))]
pub async fn order_list(
    State(app): State<App>,
    member: Member,
    Query(query): Query<PaperQuery>,
) -> Result<Download, ApiError> {
    let today: NaiveDate = member.class.calendar.day_of(app.now());
    let column = |heading: &str, share: f64, right: bool| Column { heading: heading.to_owned(), share, right };
    let columns =
        [column("To buy", 1.0, true), column("", 0.25, false), column("Unit", 1.0, false), column("Item", 6.0, false)];
    let rows: Vec<Vec<String>> = lines(&app, &member)
        .await?
        .into_iter()
        .filter(|line| line.to_buy > 0.0)
        .map(|line| vec![shown(line.to_buy), String::new(), line.unit, line.name])
        .collect();
    let under = format!("{}, {}, {today}", member.class.program_name, member.class.name);
    Download::pdf("order-list", &pages("Order list", &under, &columns, &rows, query.paper.into()))
}
