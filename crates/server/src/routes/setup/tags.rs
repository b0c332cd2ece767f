//! Tags on instruments: printed with codes, and found again by them.

use std::collections::BTreeSet;

use axum::Json;
use axum::extract::{Path, State};
use bright_row_core::role::Role;
use bright_row_core::setup::matching::MAX_TAG_LENGTH;
use bright_row_core::{AssetId, ClassId};
use bright_row_documents::labels::{Label, LabelSheet, sheets};
use bright_row_store::classes::{self, Opened};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans;
use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, utf8_percent_encode};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::auth::client::OwnAddress;
use crate::auth::guard::{Member, SignedIn};
use crate::error::answers::{ForMembers, ForMembersAsking};
use crate::error::{ApiError, FieldError};
use crate::extract::Query;
use crate::extract::files::{Download, PaperView};
use crate::state::App;

/// What is written otherwise in an address: all but letters, digits and what stands for itself (RFC 3986, 2.3).
const IN_ADDRESS: &AsciiSet = &NON_ALPHANUMERIC.remove(b'-').remove(b'.').remove(b'_').remove(b'~');

/// Which tags, where to, on what paper.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct LabelQuery {
    /// A4 by default.
    #[serde(default)]
    #[param(inline)]
    paper: PaperView,
    /// What they are printed on; plain paper to cut where it is absent.
    #[param(inline)]
    sheet: Option<SheetView>,
    /// On a sheet of labels how many have been used already.
    #[serde(default)]
    begun: usize,
    /// Only this instrument; all where it is absent.
    asset: Option<Uuid>,
}

/// A sheet of labels.
#[derive(Clone, Copy, Debug, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum SheetView {
    /// A4 with 24 labels of 70 x 37 mm.
    TwentyFour,
    /// A4 with 21 labels of 63.5 x 38.1 mm.
    TwentyOne,
    /// Letter with 30 labels of 2 5/8 x 1 in.
    Thirty,
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
    OwnAddress(origin): OwnAddress,
    Query(query): Query<LabelQuery>,
) -> Result<Download, ApiError> {
    let class = &member.class;
    let assets = assets::all(&app.db, class.key.program).await?.into_iter();
    let assets = assets.filter(|asset| query.asset.is_none_or(|only| asset.id.uuid() == only));
    let label = |asset: Asset| Label {
        what: format!("{} {}", asset.instrument.name(), asset.size),
        address: format!("{origin}/i/{}", utf8_percent_encode(&asset.tag, IN_ADDRESS)),
        owner: class.program_name.clone(),
        tag: asset.tag,
    };
    let labels: Vec<Label> = assets.map(label).collect();
    if labels.is_empty() {
        return Err(ApiError::NotFound("instrument"));
    }
    let sheet = match query.sheet {
        None => LabelSheet::Cut(query.paper.into()),
        Some(SheetView::TwentyFour) => LabelSheet::TwentyFour,
        Some(SheetView::TwentyOne) => LabelSheet::TwentyOne,
        Some(SheetView::Thirty) => LabelSheet::Thirty,
    };
    if query.begun >= sheet.many() {
        let words = format!("A sheet has {} labels: say how many of them are used.", sheet.many());
        return Err(ApiError::Invalid(vec![FieldError::new("begun", words)]));
    }
    Download::pdf("tags", &sheets(&labels, sheet, query.begun))
}

/// Where an instrument of a tag is looked at.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TaggedInstrument {
    /// The class of whoever has it, or the first by name that the one who asks may open.
    class: ClassId,
    /// The instrument.
    asset: AssetId,
    /// The school's program that it belongs to.
    program_name: String,
}

/// The instruments that have this tag, one of each program that the one who asks may look back on: the code on a tag holds neither
/// class nor id, so that it stays good for whoever reads it.
#[utoipa::path(get, path = "/api/tags/{tag}", tag = "set-up",
    params(("tag" = String, Path, description = "As it stands on the instrument, whatever the case of its letters")),
    responses(
        (status = 200, body = Vec<TaggedInstrument>, description = "At least one"),
        ForMembers,
    ))]
pub async fn find_tag(
    State(app): State<App>,
    SignedIn(account): SignedIn,
    path: Result<Path<String>, axum::extract::rejection::PathRejection>,
) -> Result<Json<Vec<TaggedInstrument>>, ApiError> {
    let nothing = || ApiError::NotFound("instrument");
    let Path(tag) = path.map_err(|_| nothing())?;
    if tag.chars().count() > MAX_TAG_LENGTH || tag.contains('\0') {
        return Err(nothing());
    }
    let opened = classes::all_for_account(&app.db, account, app.now()).await?;
    let may = |opened: &Opened| Role::looks_back(opened.role) && !opened.wants_second_factor;
    let classes: Vec<Opened> = opened.into_iter().filter(may).collect();
    let (mut found, mut looked) = (Vec::new(), BTreeSet::new());
    for Opened { class, .. } in &classes {
        let program = class.key.program;
        if !looked.insert(program) {
            continue;
        }
        let Some(asset) = assets::of_tag(&app.db, program, &tag).await? else { continue };
        let holder = loans::holder(&app.db, program, asset.id).await?;
        let of_holder =
            holder.map(|loan| loan.class).filter(|held| classes.iter().any(|one| one.class.key.class == *held));
        found.push(TaggedInstrument {
            class: of_holder.unwrap_or(class.key.class),
            asset: asset.id,
            program_name: class.program_name.clone(),
        });
    }
    if found.is_empty() { Err(nothing()) } else { Ok(Json(found)) }
}
