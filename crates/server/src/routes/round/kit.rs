//! What a round needs, whole, so that a device can start and walk one without network: whom one could visit and what could
//! be looked at there, with its points and its words; what has happened in rounds today.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::checklist::Checklist;
use bright_row_core::craft::id::Target;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::round::checks::{Check, PINNED, visit_points};
use bright_row_core::round::scans::{ClassPart, SCAN_EACH, SCAN_SECONDS, Scan, scans as scans_that_save_time};
use bright_row_core::{ChildId, ClassId};
use bright_row_store::children::context;
use bright_row_store::rounds;
use chrono::{Days, NaiveDate};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};

use crate::routes::child::page::target_name;
use crate::extract::Query;
use crate::error::{ApiError, ForMembers};
use crate::use_cases::snapshot::{Learner, ClassSnapshot};
use crate::routes::round::check::{CheckView, Words};
use crate::routes::round::events::{RoundEventView, RoundObservation};
use crate::routes::views::{InstrumentView, StrandKey};
use crate::state::App;
use crate::auth::guard::Member;

/// Minutes for looking, until a round was started.
pub(super) const USUAL_MINUTES: u32 = 12;

/// Everything a round needs.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundKit {
    #[schema(value_type = Uuid)]
    class_id: ClassId,
    class_name: String,
    /// The day it is where the class meets.
    today: NaiveDate,
    /// The meeting it is read for.
    meeting: u32,
    /// As last time; a short day's own.
    minutes: u32,
    visit_seconds: u32,
    max_checks_per_child: u32,
    must_see_after_meetings: u32,
    /// What a pin adds to a check.
    pin_points: u32,
    scan_seconds: u32,
    /// More seconds of a scan for each child in it.
    scan_each: u32,
    strands: Vec<RoundStrand>,
    /// Rows and sections.
    parts: Vec<PartView>,
    /// In walking order.
    children: Vec<RoundChild>,
    /// What can be settled from afar, most saved first.
    scans: Vec<ScanView>,
    /// What stages, checkpoints and slips are called, by id.
    names: BTreeMap<String, String>,
    /// What happened in rounds today, oldest first.
    events: Vec<RoundEventView>,
    /// The observations made in them, oldest first.
    observations: Vec<RoundObservation>,
}

/// A strand and what it is called.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundStrand {
    key: StrandKey,
    name: String,
}

/// A row or a section.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct PartView {
    /// `row-2`, `cello`.
    key: String,
    /// `Row 2`, `Cellos`.
    name: String,
    #[schema(value_type = Vec<Uuid>)]
    children: Vec<ChildId>,
}

/// A child that could be visited.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct RoundChild {
    #[schema(value_type = Uuid)]
    id: ChildId,
    name: String,
    instrument: InstrumentView,
    /// Its row; absent without a seat.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    row: Option<u8>,
    /// Its place along the walk.
    seat_order: u32,
    meetings_unseen: u32,
    visit_points: u32,
    /// It said that it hurts and nobody has said what was done.
    pain: bool,
    /// In the order of the ladder.
    checks: Vec<CheckView>,
    /// Stages and checkpoints at which a scan from afar speaks of it.
    can_be_scanned: Vec<String>,
    /// Those of them that are neither open nor due: for a look close up.
    close_up: Vec<CheckView>,
}

/// A look at many from afar.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct ScanView {
    /// A checkpoint or a stage.
    target: String,
    name: String,
    strand: StrandKey,
    /// What is there when it is right, by instrument.
    look_fors: Vec<LookForView>,
    /// Which row or section.
    part: String,
    /// Whose look it resolves.
    #[schema(value_type = Vec<Uuid>)]
    resolves: Vec<ChildId>,
    seconds: u32,
    /// Seconds of checks it saves, less its own; 0 for those that only could be done.
    saves: u32,
}

/// What is there when it is right, on some instruments.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct LookForView {
    instruments: Vec<InstrumentView>,
    look_for: String,
}

/// For which meeting.
#[derive(Deserialize, IntoParams)]
#[serde(rename_all = "camelCase")]
#[into_params(parameter_in = Query)]
pub struct Ahead {
    /// So many meetings from now, as if nobody marked anything until then; at most 10.
    #[serde(default)]
    ahead: u32,
}

/// Everything a round of this class needs.
#[utoipa::path(get, path = "/api/classes/{class}/round", tag = "round",
    params(("class" = Uuid, Path, description = "The class"), Ahead),
    responses(
        (status = 200, body = RoundKit),
        ForMembers,
    ))]
pub async fn round_kit(
    State(app): State<App>,
    member: Member,
    Query(when): Query<Ahead>,
) -> Result<Json<RoundKit>, ApiError> {
    let class = &member.class;
    let snapshot = ClassSnapshot::new(&app, class).ahead(when.ahead.min(10));
    let today = class.calendar.day_of(app.now());
    // A device's clock may run behind.
    let since = class.calendar.begins(today.checked_sub_days(Days::new(1)).unwrap_or(today));
    let (own, events, latest) = tokio::try_join!(
        context::own_look_fors(&app.db, class.key),
        rounds::since(&app.db, class.key, since),
        rounds::latest_start(&app.db, class.key)
    )?;
    let of_today: BTreeSet<_> = events
        .iter()
        .filter(|event| event.kind == "start" && class.calendar.day_of(event.happened_at) == today)
        .map(|event| event.round)
        .collect();
    let observations = rounds::observations(&app.db, class.key, &of_today).await?;
    let mut learners = snapshot.learners().await?;
    learners.sort_by_key(Learner::walking_key);
    let causes = &app.content.causes;
    let candidates = learners.iter().map(|learner| {
        let (unseen, _) = snapshot.unseen(&learner.child, &learner.standings);
        learner.pupil(causes).checks(unseen >= class.round.must_see_after)
    });
    let candidates: Vec<Vec<Check>> = candidates.collect();
    let (keys, parts) = parts(&learners);
    let looked: Vec<_> =
        learners.iter().zip(&candidates).map(|(learner, found)| (learner.child.id, found.as_slice())).collect();
    let scans = scans_that_save_time(&looked, &parts);
    let words = Words::new(&learners, &own, causes);
    let scan_words = Scanning { learners: &learners, keys: &keys, snapshot: &snapshot };
    let minutes = latest.and_then(|detail| detail.get("minutes")?.as_u64()).and_then(|m| u32::try_from(m).ok());
    Ok(Json(RoundKit {
        class_id: class.key.class,
        class_name: class.name.clone(),
        today,
        meeting: snapshot.now,
        minutes: class.short_days.get(&today).copied().or(minutes).unwrap_or(USUAL_MINUTES),
        visit_seconds: class.round.visit_seconds,
        max_checks_per_child: class.round.max_checks,
        must_see_after_meetings: class.round.must_see_after,
        pin_points: PINNED,
        scan_seconds: SCAN_SECONDS,
        scan_each: SCAN_EACH,
        strands: Strand::ALL
            .map(|strand| RoundStrand { key: strand.into(), name: snapshot.checklist.strand_name(strand).to_owned() })
            .into(),
        children: (0..)
            .zip(learners.iter().zip(&candidates))
            .map(|(place, (learner, found))| round_child(&snapshot, place, learner, found, &words))
            .collect(),
        scans: scan_words.all(&scans),
        parts: scan_words.parts(&parts),
        names: names(&snapshot.checklist),
        events: events.into_iter().filter(|event| of_today.contains(&event.round)).map(Into::into).collect(),
        observations: observations.iter().map(RoundObservation::from).collect(),
    }))
}

fn names(checklist: &Checklist) -> BTreeMap<String, String> {
    let stages = checklist.stages().iter().map(|stage| stage.id.to_string());
    let checkpoints = checklist.checkpoints().iter().map(|checkpoint| checkpoint.id.to_string());
    let targets = stages.chain(checkpoints).map(|id| (id.clone(), target_name(checklist, &id)));
    targets.chain(checklist.slips().iter().map(|slip| (slip.id.to_string(), slip.name.clone()))).collect()
}

fn round_child(
    snapshot: &ClassSnapshot<'_>,
    seat_order: u32,
    learner: &Learner,
    candidates: &[Check],
    words: &Words<'_>,
) -> RoundChild {
    let (meetings_unseen, _) = snapshot.unseen(&learner.child, &learner.standings);
    let pupil = learner.pupil(&snapshot.app.content.causes);
    let far: Vec<Target> = far_targets(snapshot).into_iter().filter(|target| pupil.can_be_scanned(target)).collect();
    let settled = far.iter().filter(|target| candidates.iter().all(|candidate| candidate.target != **target));
    RoundChild {
        close_up: settled.filter_map(|target| words.close_up(learner, target)).collect(),
        id: learner.child.id,
        name: learner.child.name.clone(),
        instrument: learner.child.playing.now.into(),
        row: learner.child.seat.map(|seat| seat.row),
        seat_order,
        meetings_unseen,
        visit_points: visit_points(meetings_unseen),
        pain: !learner.known.context.pain.is_empty(),
        checks: candidates.iter().map(|candidate| words.check(learner, candidate)).collect(),
        can_be_scanned: far.iter().map(|target| target.id().to_owned()).collect(),
    }
}

/// What can be seen from two rows away: checkpoints, and stages all of whose required checkpoints can.
fn far_targets(snapshot: &ClassSnapshot<'_>) -> Vec<Target> {
    let checklist = &snapshot.checklist;
    let mut targets = Vec::new();
    for stage in checklist.stages().iter().filter(|stage| stage.strand != Strand::Tape) {
        let required = || checklist.checkpoints_of(&stage.id).filter(|checkpoint| checkpoint.required);
        if required().next().is_some() && required().all(|checkpoint| checkpoint.far) {
            targets.push(Target::Stage(stage.id.clone()));
        }
        let far = checklist.checkpoints_of(&stage.id).filter(|checkpoint| checkpoint.far);
        targets.extend(far.map(|checkpoint| Target::Checkpoint(checkpoint.id.clone())));
    }
    targets
}

/// Rows, then sections, with their keys.
fn parts(learners: &[Learner]) -> (Vec<(String, String)>, Vec<ClassPart>) {
    let mut keys = Vec::new();
    let mut parts = Vec::new();
    let rows: BTreeSet<u8> = learners.iter().filter_map(|learner| learner.child.seat).map(|seat| seat.row).collect();
    let mut add = |key: String, name: String, of: &dyn Fn(&Learner) -> bool| {
        let children: Vec<usize> =
            learners.iter().enumerate().filter(|(_, learner)| of(learner)).map(|(place, _)| place).collect();
        if !children.is_empty() {
            keys.push((key, name));
            parts.push(ClassPart { children });
        }
    };
    for row in rows {
        add(format!("row-{row}"), format!("Row {row}"), &|learner| {
            learner.child.seat.is_some_and(|seat| seat.row == row)
        });
    }
    for (instrument, name) in Instrument::ALL.into_iter().zip(["Violins", "Violas", "Cellos", "Basses"]) {
        add(instrument.name().to_owned(), name.to_owned(), &|learner| learner.child.playing.now == instrument);
    }
    (keys, parts)
}

/// Scans and parts in words.
struct Scanning<'a> {
    learners: &'a [Learner],
    keys: &'a [(String, String)],
    snapshot: &'a ClassSnapshot<'a>,
}

impl Scanning<'_> {
    fn parts(&self, parts: &[ClassPart]) -> Vec<PartView> {
        let view = |((key, name), part): (&(String, String), &ClassPart)| PartView {
            key: key.clone(),
            name: name.clone(),
            children: part.children.iter().map(|place| self.learners[*place].child.id).collect(),
        };
        self.keys.iter().zip(parts).map(view).collect()
    }

    /// Those that save time, then everything else that can be seen from afar, for the director to begin by hand.
    fn all(&self, scans: &[Scan]) -> Vec<ScanView> {
        let proposed = scans.iter().map(|scan| ScanView {
            part: self.keys[scan.part].0.clone(),
            resolves: scan.resolves.iter().map(|place| self.learners[*place].child.id).collect(),
            seconds: scan.seconds,
            saves: scan.saves,
            ..self.view(&scan.target)
        });
        let by_hand = far_targets(self.snapshot).into_iter().map(|target| self.view(&target));
        proposed.chain(by_hand).collect()
    }

    fn view(&self, target: &Target) -> ScanView {
        let checklist = &self.snapshot.checklist;
        let checkpoints: Vec<_> = match target {
            Target::Checkpoint(id) => checklist.checkpoint(id.as_str()).into_iter().collect(),
            Target::Stage(id) => checklist.checkpoints_of(id).filter(|checkpoint| checkpoint.required).collect(),
        };
        let mut look_fors: Vec<LookForView> = Vec::new();
        for instrument in Instrument::ALL {
            let texts = checkpoints.iter().filter_map(|checkpoint| checkpoint.wording.get(&instrument));
            let text = texts.map(|wording| wording.look_for.clone()).collect::<Vec<_>>().join(". ");
            match look_fors.iter_mut().find(|known| known.look_for == text) {
                _ if text.is_empty() => {}
                Some(known) => known.instruments.push(instrument.into()),
                None => look_fors.push(LookForView { instruments: vec![instrument.into()], look_for: text }),
            }
        }
        ScanView {
            target: target.id().to_owned(),
            name: target_name(checklist, target.id()),
            strand: checklist.strand_of_target(target).unwrap_or(Strand::Hold).into(),
            look_fors,
            part: String::new(),
            resolves: Vec::new(),
            seconds: 0,
            saves: 0,
        }
    }
}
