//! Strips of paper that show where markers go: how many sheets they take, and the sheets themselves.

use bright_row_store::instruments::loans;
use std::collections::BTreeSet;

use axum::Json;
use axum::extract::State;
use bright_row_core::AssetId;
use bright_row_core::tapes::finger::Spot;
use bright_row_core::tapes::layout::{distance_mm, edge_mm};
use bright_row_core::tapes::marker_set::{MarkerKind, MarkerSet};
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_documents::template::{Template, TemplateMarker, sheets, single};
use bright_row_store::instruments::assets::{self, Asset};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::auth::guard::Member;
use crate::error::answers::ForMembersAsking;
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Download, PaperView};
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;

/// Which templates, on what paper.
#[derive(Debug, Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct TemplateQuery {
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
    /// Instruments by their ids, separated by commas; all that the class has where it is absent.
    assets: Option<String>,
    /// Spots for the back of the neck too (cello, bass); those that the class's markers include are always there.
    #[serde(default)]
    backs: bool,
    /// Instruments that are not measured too, by what is usual for their size.
    #[serde(default)]
    unmeasured: bool,
    /// Of a drawing: which sheet, from 0.
    #[serde(default)]
    page: usize,
    /// Of a drawing: the first strip by itself, without a sheet around it.
    #[serde(default)]
    alone: bool,
}

/// How many sheets, and what is not on them.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct SheetCount {
    sheets: usize,
    /// A strip that is cut in two counts twice.
    strips: usize,
    left_out: Vec<LeftOut>,
}

/// An instrument without a template.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LeftOut {
    asset: AssetId,
    tag: String,
    why: NoTemplate,
}

/// Why an instrument gets no template.
#[derive(Clone, Copy, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum NoTemplate {
    /// The class has no markers, by choice.
    NoMarkers,
    /// Its string length is not on record.
    NotMeasured,
}

/// How many sheets these templates take.
#[utoipa::path(get, path = "/api/classes/{class}/tapes/sheets", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TemplateQuery),
    responses(
        (status = 200, body = SheetCount),
        ForMembersAsking,
    ))]
pub async fn count_sheets(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TemplateQuery>,
) -> Result<Json<SheetCount>, ApiError> {
    let (templates, left_out) = wanted(&app, &member, &query).await?;
    let sheets = sheets(&templates, query.paper.into());
    Ok(Json(SheetCount { sheets: sheets.pages.len(), strips: sheets.pieces, left_out }))
}

/// The sheets to print, at true scale.
#[utoipa::path(get, path = "/api/classes/{class}/tapes/templates.pdf", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TemplateQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "application/pdf"),
        ForMembersAsking,
    ))]
pub async fn templates_pdf(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TemplateQuery>,
) -> Result<Download, ApiError> {
    let (templates, _) = wanted(&app, &member, &query).await?;
    if templates.is_empty() {
        return Err(nothing());
    }
    let paper = query.paper.into();
    // Text to outlines takes a while for a whole class.
    let made = tokio::task::spawn_blocking(move || Download::pdf("templates", &sheets(&templates, paper).pages));
    made.await.map_err(|error| ApiError::Internal(error.to_string()))?
}

/// One of the sheets as a drawing, at true scale.
#[utoipa::path(get, path = "/api/classes/{class}/tapes/templates.svg", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class"), TemplateQuery),
    responses(
        (status = 200, body = Vec<u8>, content_type = "image/svg+xml"),
        ForMembersAsking,
    ))]
pub async fn templates_svg(
    State(app): State<App>,
    member: Member,
    Query(query): Query<TemplateQuery>,
) -> Result<Download, ApiError> {
    let (templates, _) = wanted(&app, &member, &query).await?;
    if let Some(first) = templates.first().filter(|_| query.alone) {
        let name = format!("{}.svg", first.tag);
        return Ok(Download { name, kind: "image/svg+xml", bytes: single(first).svg().into_bytes() });
    }
    let sheets = sheets(&templates, query.paper.into());
    let page = sheets.pages.get(query.page).ok_or_else(nothing)?;
    let name = format!("templates-{}.svg", query.page + 1);
    Ok(Download { name, kind: "image/svg+xml", bytes: page.svg().into_bytes() })
}

fn nothing() -> ApiError {
    ApiError::Invalid(vec![FieldError::new(
        "assets",
        "There is no sheet of that: measure an instrument first, or choose markers for the class in Approach.",
    )])
}

/// The templates that are asked for, and the instruments that have none.
async fn wanted(app: &App, member: &Member, query: &TemplateQuery) -> Result<(Vec<Template>, Vec<LeftOut>), ApiError> {
    let class = &member.class;
    let program = class.key.program;
    let only = query.assets.as_deref().map(ids).transpose()?;
    let (all, lent) = tokio::try_join!(assets::all(&app.db, program), loans::lent(&app.db, program))?;
    let here = |asset: &Asset| match &only {
        Some(only) => only.contains(&asset.id),
        None => lent.get(&asset.id).is_some_and(|loan| loan.class == class.key.class),
    };
    let snapshot = ClassSnapshot::new(app, class);
    let day = class.calendar.day_of(app.now()).format("%-d %b %Y").to_string();
    let (mut templates, mut left_out) = (Vec::new(), Vec::new());
    for asset in all.iter().filter(|asset| here(asset)) {
        let set = snapshot.set_of(asset.instrument);
        match length_of(asset, set, query.unmeasured) {
            Ok((length_mm, measured)) => {
                let strip = Strip { asset, set, length_mm, measured, day: &day };
                templates.push(strip.template(strip.markers(&class.marker_settings), false));
                let back = set.thumb_mm(length_mm, &class.choices);
                if let Some(at_mm) = back.filter(|_| query.backs || set.spots.contains(&Spot::Thumb)) {
                    let marker = TemplateMarker {
                        label: "thumb".to_owned(),
                        colour: class.marker_settings.colours.plain,
                        at_mm,
                    };
                    templates.push(strip.template(vec![marker], true));
                }
            }
            Err(why) => left_out.push(LeftOut { asset: asset.id, tag: asset.tag.clone(), why }),
        }
    }
    Ok((templates, left_out))
}

fn ids(text: &str) -> Result<BTreeSet<AssetId>, ApiError> {
    let wrong = || ApiError::Invalid(vec![FieldError::new("assets", "Ids of instruments, separated by commas.")]);
    let one = |id: &str| id.trim().parse::<Uuid>().map(AssetId::from).map_err(|_| wrong());
    text.split(',').filter(|id| !id.trim().is_empty()).map(one).collect()
}

fn length_of(asset: &Asset, set: &MarkerSet, unmeasured: bool) -> Result<(f64, bool), NoTemplate> {
    if set.kind == MarkerKind::None {
        return Err(NoTemplate::NoMarkers);
    }
    if let Some(mm) = asset.string_length_mm {
        return Ok((mm, true));
    }
    let usual = set.facts.size(&asset.size).map(|size| size.string_length_mm);
    usual.filter(|_| unmeasured).map(|mm| (mm, false)).ok_or(NoTemplate::NotMeasured)
}

struct Strip<'a> {
    asset: &'a Asset,
    set: &'a MarkerSet,
    length_mm: f64,
    measured: bool,
    day: &'a str,
}

impl Strip<'_> {
    fn markers(&self, settings: &MarkerSettings) -> Vec<TemplateMarker> {
        let colours = self.set.finger_colours();
        let marker = |finger: bright_row_core::tapes::finger::Finger| {
            let semitones = finger.semitones(self.asset.instrument)?;
            let line = distance_mm(self.length_mm, semitones, settings.temperament);
            // Of a strip its nut-side edge is shown, of a dot or a pencil line its middle.
            let at_mm = match self.set.kind {
                MarkerKind::Tapes | MarkerKind::Overlay | MarkerKind::None => edge_mm(settings, line),
                MarkerKind::Dots | MarkerKind::Pencil => line - settings.offset_mm,
            };
            let colour = colours[usize::from(finger.number() - 1)];
            Some(TemplateMarker { label: finger.spoken().to_owned(), colour, at_mm })
        };
        self.set.fingers().into_iter().filter_map(marker).collect()
    }

    fn template(&self, markers: Vec<TemplateMarker>, for_thumb: bool) -> Template {
        Template {
            tag: self.asset.tag.clone(),
            what: format!("{} {}", self.asset.instrument.name(), self.asset.size),
            length_mm: self.length_mm,
            measured: self.measured,
            day: self.day.to_owned(),
            kind: self.set.kind,
            strip_mm: self.set.settings.strip_mm,
            colours: self.set.colours,
            markers,
            for_thumb,
        }
    }
}
