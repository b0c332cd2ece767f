//! The bench: every instrument of the class by what its markers need, and what the class's ears say of its offset.

use bright_row_core::craft::instrument::Instrument;
use bright_row_store::instruments::loans;
use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::number::tenths;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::Recheck;
use bright_row_core::progress::tape_status::TapeStatus;
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::tapes::assessment::SpotStatus;
use bright_row_core::tapes::colour::Colour;
use bright_row_core::tapes::marker_set::MarkerSet;
use bright_row_core::tapes::needs::MarkerNeed;
use bright_row_core::tapes::offset::{propose_offset, wanted_move_mm};
use bright_row_core::tapes::record::TapeRecord;
use bright_row_core::tapes::settings::MarkerSettings;
use bright_row_core::tapes::status::{TapeState, TapeTrouble};
use bright_row_core::tapes::thinning::next_to_go;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans::Loan;
use bright_row_store::instruments::{tape_looks, tapes};
use serde::Serialize;
use serde_with::skip_serializing_none;
use utoipa::ToSchema;

use crate::auth::guard::{Director, InClass};
use crate::error::ApiError;
use crate::error::answers::{ForDirectorsWriting, ForMembers};
use crate::extract::Body;
use crate::extract::based_on::{BasedOn, version};
use crate::routes::tapes::settings::settings_field;
use crate::routes::tapes::tuning::{TuningView, tuning};
use crate::routes::tapes::views::{ColourView, MarkerSetView};
use crate::state::App;
use crate::use_cases::change_settings;
use crate::use_cases::landings::landings;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};

/// The instruments of a class at the bench.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeBench {
    /// Those that the class has, and those free in the store room; what needs most comes first.
    instruments: Vec<BenchInstrument>,
    /// Children of the class without an instrument on record.
    without: Vec<BenchChild>,
    settings: MarkerSettings,
    /// The version of `settings`.
    settings_version: String,
    /// The markers that the class calls for.
    markers: MarkerSetView,
    /// The colours to choose from.
    colours: Vec<ColourView>,
    /// What enough instruments were heard to want instead.
    offset: Option<OffsetView>,
    /// The open strings to tune by.
    tuning: Vec<TuningView>,
    /// Whether the one who asks may change how markers are laid.
    director: bool,
}

/// A child named at the bench.
#[derive(Clone, Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BenchChild {
    id: ChildId,
    name: String,
    instrument: Instrument,
}

impl From<&Learner> for BenchChild {
    fn from(learner: &Learner) -> Self {
        let child = &learner.child;
        Self { id: child.id, name: child.name.clone(), instrument: child.playing.now }
    }
}

/// An instrument by what its markers need.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct BenchInstrument {
    asset: AssetId,
    tag: String,
    instrument: Instrument,
    size: String,
    string_length_mm: Option<f64>,
    /// Who of the class has it.
    child: Option<BenchChild>,
    #[serde(flatten)]
    state: TapeStanding,
}

/// How an instrument's markers stand.
#[skip_serializing_none]
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeStanding {
    state: TapeState,
    trouble: Option<TapeTrouble>,
    recheck: Option<Recheck>,
    /// What to do next.
    need: MarkerNeed,
    /// The markers that the class calls for and those that were ever laid, up the string.
    spots: Vec<SpotStatus>,
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
    pub(crate) fn new(status: TapeStatus, assessment: &MarkerAssessment, set: &MarkerSet, landed: u32) -> Self {
        let due = status.recheck.is_some_and(Recheck::is_due);
        Self {
            state: status.state,
            trouble: status.trouble,
            recheck: status.recheck,
            need: MarkerNeed::of(status.state, status.trouble, due, next_to_go(set, assessment, landed).is_ok()),
            spots: assessment.spots.clone(),
        }
    }
}

/// The instruments of the class and those free in the store room, by what their markers need.
#[utoipa::path(get, path = "/api/classes/{class}/tapes", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = TapeBench),
        ForMembers,
    ))]
pub async fn tape_bench(State(app): State<App>, InClass(member): InClass) -> Result<Json<TapeBench>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class);
    let program = class.key.program;
    let (assets, lent, records, seen) = tokio::try_join!(
        assets::all(&app.db, program),
        loans::lent(&app.db, program),
        tapes::records(&app.db, program),
        tape_looks::observations_on(&app.db, program, None)
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
    let first = snapshot.set_of(Instrument::Violin);
    Ok(Json(TapeBench {
        instruments,
        without,
        settings: class.marker_settings,
        settings_version: version(&class.marker_settings),
        markers: first.into(),
        colours: Colour::ALL.map(Into::into).into(),
        offset: offset(&snapshot, &assets, &records),
        tuning: tuning(&snapshot),
        director: member.may_change(),
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
        let assessment =
            MarkerAssessment::of(self.records.get(&asset.id).unwrap_or(&empty), set, asset.string_length_mm);
        let status = match learner {
            Some(learner) => learner.ladder.tapes,
            None => self.snapshot.free_tapes(&assessment, self.seen.get(&asset.id).map_or(&[], Vec::as_slice)),
        };
        let landed = learner.and_then(|learner| self.landed.get(&learner.child.id)).copied().unwrap_or_default();
        Some(BenchInstrument {
            asset: asset.id,
            tag: asset.tag.clone(),
            instrument: asset.instrument,
            size: asset.size.clone(),
            string_length_mm: asset.string_length_mm,
            child: learner.map(Into::into),
            state: TapeStanding::new(status, &assessment, set, landed),
        })
    }
}

/// What the instruments that were heard with cents want instead of the offset in use.
fn offset(
    snapshot: &ClassSnapshot<'_>,
    assets: &[Asset],
    records: &BTreeMap<AssetId, TapeRecord>,
) -> Option<OffsetView> {
    let settings = &snapshot.class.marker_settings;
    let in_use = settings.offset_mm;
    let moves = assets.iter().filter_map(|asset| {
        wanted_move_mm(records.get(&asset.id)?, asset.instrument, asset.string_length_mm?, settings.temperament)
    });
    let proposal = propose_offset(in_use, &moves.collect::<Vec<_>>())?;
    proposal.is_worth_taking(in_use).then_some(OffsetView {
        offset_mm: tenths(proposal.offset_mm),
        in_use_mm: in_use,
        median_move_mm: proposal.median_move_mm,
        least_move_mm: proposal.least_move_mm,
        most_move_mm: proposal.most_move_mm,
        instruments: proposal.instruments,
    })
}

/// Lays markers in this way from now on; directors only. What was laid and heard stays in the log.
#[utoipa::path(put, path = "/api/classes/{class}/tapes/settings", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = MarkerSettings,
    responses(
        (status = 204, description = "Kept"),
        ForDirectorsWriting,
    ))]
pub async fn keep_marker_settings(
    State(app): State<App>,
    Director(member): Director,
    based_on: BasedOn,
    Body(body): Body<MarkerSettings>,
) -> Result<axum::http::StatusCode, ApiError> {
    body.check().map_err(|fault| ApiError::Invalid(vec![settings_field(fault)]))?;
    change_settings::set_marker_settings(&app, &member, &body, |class| {
        based_on.allow(Some(&class.marker_settings), &body)
    })
    .await?;
    Ok(axum::http::StatusCode::NO_CONTENT)
}
