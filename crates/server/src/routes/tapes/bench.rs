//! The bench: every instrument of the class by what its markers need, and what the class's ears say of its offset.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::Recheck;
use bright_row_core::progress::tape_status::TapeStatus;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::finger::Spot;
use bright_row_core::tapes::layout::{distance_mm, stopped_at_mm};
use bright_row_core::tapes::log::{Heard, Proof};
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::tapes::offset::{median, propose_offset};
use bright_row_core::tapes::record::{Presence, TapeRecord};
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_core::tapes::status::{TapeState, TapeTrouble};
use bright_row_core::tapes::thinning::next_to_go;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::instruments::assets::{self, Asset, Loan};
use bright_row_store::classes;
use bright_row_store::instruments::tapes;
use serde::Serialize;
use utoipa::ToSchema;

use crate::extract::Body;
use crate::routes::tapes::settings::{MarkerSettings, field_of};
use crate::error::{ApiError, ForDirectorsWriting, ForMembers};
use crate::use_cases::snapshot::{Learner, ClassSnapshot};
use crate::use_cases::landings::landings;
use crate::routes::tapes::views::{MarkerSetView, SpotView, TapeStateView, TapeTroubleView};
use crate::routes::views::{InstrumentView, RecheckView};
use crate::state::App;
use crate::auth::guard::{Director, Member};

/// The instruments of a class at the bench.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeBench {
    /// Those that the class has, and those free in the store room; what needs most comes first.
    instruments: Vec<BenchInstrument>,
    /// Children of the class without an instrument on record.
    without: Vec<BenchChild>,
    settings: MarkerSettings,
    /// The markers that the class calls for.
    markers: MarkerSetView,
    /// What enough instruments were heard to want instead.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    offset: Option<OffsetView>,
    /// Whether the one who asks may change how markers are laid.
    director: bool,
}

/// A child named at the bench.
#[derive(Clone, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BenchChild {
    #[schema(value_type = Uuid)]
    id: ChildId,
    name: String,
    instrument: InstrumentView,
}

impl From<&Learner> for BenchChild {
    fn from(learner: &Learner) -> Self {
        let child = &learner.child;
        Self { id: child.id, name: child.name.clone(), instrument: child.playing.now.into() }
    }
}

/// An instrument by what its markers need.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BenchInstrument {
    #[schema(value_type = Uuid)]
    asset: AssetId,
    tag: String,
    instrument: InstrumentView,
    size: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    string_length_mm: Option<f64>,
    /// Who of the class has it.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    child: Option<BenchChild>,
    #[serde(flatten)]
    state: TapeStanding,
}

/// How an instrument's markers stand.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeStanding {
    state: TapeStateView,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    trouble: Option<TapeTroubleView>,
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    recheck: Option<RecheckView>,
    /// What to do next.
    need: Need,
    /// The markers that the class calls for and those that were ever laid, up the string.
    spots: Vec<SpotView>,
}

/// What an instrument's markers need next, the most pressing first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum Need {
    /// It came in the place of another: look at it.
    LookAtIt,
    /// Markers came off or are coming off.
    LayAgain,
    /// Markers drifted.
    MoveMarks,
    /// Looked at again.
    Recheck,
    /// Laid, not proved.
    Hear,
    /// Measured, not laid.
    Place,
    /// Not measured.
    Measure,
    /// Ready to lose a marker.
    Thin,
    /// Nothing now.
    Nothing,
}

/// An offset that the class's ears propose.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct OffsetView {
    /// The offset to use, in millimetres towards the nut.
    offset_mm: f64,
    /// The one in use.
    in_use_mm: f64,
    /// What the instruments wanted to be moved, in the middle, least and most; positive = towards the bridge.
    median_move_mm: f64,
    least_move_mm: f64,
    most_move_mm: f64,
    instruments: usize,
}

impl TapeStanding {
    /// How markers stand; `landed` are the looks in a row that found the child landing in tune.
    pub(super) fn new(status: TapeStatus, told: &MarkerAssessment, set: &MarkerSet, landed: u32) -> Self {
        Self {
            state: status.state.into(),
            trouble: status.trouble.map(Into::into),
            recheck: status.recheck.map(Into::into),
            need: need(status, told, set, landed),
            spots: told.spots.iter().map(Into::into).collect(),
        }
    }
}

fn need(status: TapeStatus, told: &MarkerAssessment, set: &MarkerSet, landed: u32) -> Need {
    match (status.trouble, status.state) {
        (_, TapeState::NoneByChoice) => Need::Nothing,
        (Some(TapeTrouble::WrongInstrument), _) => Need::LookAtIt,
        (Some(TapeTrouble::LooseOrMissing), _) => Need::LayAgain,
        (Some(TapeTrouble::Drifted), _) => Need::MoveMarks,
        (None, TapeState::NotMeasured) => Need::Measure,
        (None, TapeState::ReadyToPlace) => Need::Place,
        (None, TapeState::Placed) => Need::Hear,
        _ if status.recheck.is_some_and(Recheck::is_due) => Need::Recheck,
        (None, TapeState::Holding | TapeState::Thinning) if next_to_go(set, told, landed).is_ok() => Need::Thin,
        (None, _) => Need::Nothing,
    }
}

/// The instruments of the class and those free in the store room, by what their markers need.
#[utoipa::path(get, path = "/api/classes/{class}/tapes", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = TapeBench),
        ForMembers,
    ))]
pub async fn tape_bench(State(app): State<App>, member: Member) -> Result<Json<TapeBench>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let program = class.key.program;
    let (assets, lent, records, seen) = tokio::try_join!(
        assets::all(&app.db, program),
        assets::lent(&app.db, program),
        tapes::records(&app.db, program),
        tapes::observations_on(&app.db, program, None)
    )?;
    let learners = snapshot.learners().await?;
    let landed = landings(&app, class, &learners).await?;
    let of: BTreeMap<ChildId, &Learner> = learners.iter().map(|learner| (learner.child.id, learner)).collect();
    let bench = Bench { snapshot: &snapshot, lent: &lent, records: &records, seen: &seen, of: &of, landed: &landed };
    let mut instruments: Vec<BenchInstrument> = assets.iter().filter_map(|asset| bench.instrument(asset)).collect();
    instruments.sort_by(|a, b| {
        let free = |one: &BenchInstrument| one.child.is_none();
        (free(a), a.state.need, a.tag.to_lowercase()).cmp(&(free(b), b.state.need, b.tag.to_lowercase()))
    });
    let have: BTreeSet<ChildId> = lent.values().map(|loan| loan.child).collect();
    let without = learners.iter().filter(|learner| !have.contains(&learner.child.id)).map(Into::into).collect();
    let first = snapshot.set_of(bright_row_core::craft::instrument::Instrument::Violin);
    Ok(Json(TapeBench {
        instruments,
        without,
        laying: class.marker_settings.into(),
        markers: first.into(),
        offset: offset(&snapshot, &assets, &records),
        director: class.role == bright_row_store::accounts::Role::Director,
    }))
}

struct Bench<'a> {
    snapshot: &'a ClassSnapshot<'a>,
    lent: &'a BTreeMap<AssetId, Loan>,
    records: &'a BTreeMap<AssetId, TapeRecord>,
    /// Looks in class at free instruments.
    seen: &'a BTreeMap<AssetId, Vec<Observation>>,
    of: &'a BTreeMap<ChildId, &'a Learner>,
    landed: &'a BTreeMap<ChildId, u32>,
}

impl Bench<'_> {
    /// An instrument of the class, or a free one; `None` for one that another class has.
    fn instrument(&self, asset: &Asset) -> Option<BenchInstrument> {
        let loan = self.lent.get(&asset.id);
        let learner = loan.and_then(|loan| self.of.get(&loan.child).copied());
        if loan.is_some() && learner.is_none() {
            return None;
        }
        let empty = TapeRecord::default();
        let set = self.snapshot.set_of(asset.instrument);
        let told = MarkerAssessment::of(self.records.get(&asset.id).unwrap_or(&empty), set, asset.string_length_mm);
        let status = match learner {
            Some(learner) => learner.ladder.tapes,
            None => self.snapshot.free_tapes(&told, self.seen.get(&asset.id).map_or(&[], Vec::as_slice)),
        };
        let landed = learner.and_then(|learner| self.landed.get(&learner.child.id)).copied().unwrap_or_default();
        Some(BenchInstrument {
            asset: asset.id,
            tag: asset.tag.clone(),
            instrument: asset.instrument.into(),
            size: asset.size.clone(),
            string_length_mm: asset.string_length_mm,
            child: learner.map(Into::into),
            state: TapeStanding::new(status, &told, set, landed),
        })
    }
}

/// What the instruments that were heard with cents want instead of the offset in use.
fn offset(snapshot: &ClassSnapshot<'_>, assets: &[Asset], records: &BTreeMap<AssetId, TapeRecord>) -> Option<OffsetView> {
    let moves = assets.iter().filter_map(|asset| wanted_move(snapshot, asset, records.get(&asset.id)?));
    let in_use = snapshot.class.marker_settings.offset_mm;
    let proposal = propose_offset(in_use, &moves.collect::<Vec<_>>())?;
    // What nobody could lay any better is no proposal.
    ((proposal.offset_mm - in_use).abs() >= LEAST_CHANGE_MM).then_some(OffsetView {
        offset_mm: bright_row_core::number::tenths(proposal.offset_mm),
        in_use_mm: in_use,
        median_move_mm: proposal.median_move_mm,
        least_move_mm: proposal.least_move_mm,
        most_move_mm: proposal.most_move_mm,
        instruments: proposal.instruments,
    })
}

/// An offset that differs by less is the same to anybody's hand.
const LEAST_CHANGE_MM: f64 = 0.2;

/// How far one instrument's markers want to move: the middle of those that were heard with a tuner.
fn wanted_move(snapshot: &ClassSnapshot<'_>, asset: &Asset, record: &TapeRecord) -> Option<f64> {
    let length = asset.string_length_mm?;
    let temperament = snapshot.class.marker_settings.temperament;
    let mut moves: Vec<f64> = record
        .spots
        .iter()
        .filter(|(_, known)| known.proof == Some(Proof::Tuner) && known.presence == Presence::On)
        .filter_map(|(spot, known)| {
            let (Spot::Finger(finger), Some(Heard::Cents(cents))) = (spot, known.heard) else { return None };
            let line = distance_mm(length, finger.semitones(asset.instrument)?, temperament);
            Some(line - stopped_at_mm(length, line, cents))
        })
        .collect();
    moves.sort_by(f64::total_cmp);
    median(&moves)
}

/// Lays markers in this way from now on; directors only. What was laid and heard stays as it was told.
#[utoipa::path(put, path = "/api/classes/{class}/tapes/settings", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = MarkerSettings,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn set_marker_settings(
    State(app): State<App>,
    Director(member): Director,
    Body(body): Body<MarkerSettings>,
) -> Result<axum::http::StatusCode, ApiError> {
    let laying = MarkerSettings::from(body);
    laying.check().map_err(|fault| ApiError::Invalid(vec![field_of(&fault)]))?;
    classes::set_marker_settings(&app.db, member.class.key, &laying).await?;
    app.live.changed(member.class.key.class);
    Ok(axum::http::StatusCode::NO_CONTENT)
}
