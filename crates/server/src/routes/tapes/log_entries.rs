//! TapeWork on instruments' markers, as devices tell it: up to 500 entries at once, each answered, the good ones kept.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::AssetId;
use bright_row_core::craft::instrument::{Instrument, InstrumentFacts};
use bright_row_core::tapes::ear_checks::ear_checks;
use bright_row_core::tapes::finger::{Finger, Spot};
use bright_row_core::tapes::layout::{MAX_STRING_MM, MIN_STRING_MM, positions};
use bright_row_core::tapes::log::{Heard, Proof, TapeEvent, TapeWork};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::tapes::{self, Entry, Outcome};
use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::extract::Body;
use crate::routes::setup::instruments::Checks;
use crate::router::observations::{AHEAD, RecordResult, OutcomeView};
use crate::error::{ApiError, FieldError, ForMembersAsking};
use crate::state::App;
use crate::auth::guard::Member;

/// The most entries one request carries.
const MOST: usize = 500;
/// A bridge that moves farther has fallen.
const BRIDGE_MOST_MM: f64 = 30.0;
/// What a tuner shows at most of one note.
const CENTS_MOST: f64 = 60.0;

/// How a marker was proved.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum ProofView {
    /// Against an open string.
    OpenString,
    /// By steps from a proved marker.
    Step,
    /// Against a reference tone.
    Tone,
    /// With a tuner.
    Tuner,
}

/// What was done to an instrument's markers.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum TapeWorkKind {
    /// `lengthMm`.
    Measured,
    /// `spots`.
    Placed,
    /// `edges`.
    Positions,
    /// `finger`, `proof`, `heard` or `cents`.
    Heard,
    /// Everything still there and true.
    Held,
    /// `spots`.
    Loose,
    /// `spots`.
    Missing,
    /// `movedMm` if it is known.
    Bridge,
    /// New strings.
    Strings,
    /// `spots`.
    Thinned,
    /// `spots`.
    Back,
    /// Every marker taken away.
    Bare,
    /// `event` does not count.
    Undone,
}

/// What an ear says.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub enum HeardView {
    /// In tune.
    True,
    /// Too high.
    High,
    /// Too low.
    Low,
}

/// One entry for an instrument's log.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "camelCase", deny_unknown_fields)]
pub struct TapeEntry {
    /// A `UUIDv7` made by the device; the same id twice is one entry.
    id: Uuid,
    asset: Uuid,
    at: DateTime<Utc>,
    kind: TapeWorkKind,
    /// Fingers, `thumb`, `line`.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    spots: Vec<String>,
    /// Nut to bridge.
    #[serde(skip_serializing_if = "Option::is_none")]
    length_mm: Option<f64>,
    /// Nut-side edges by finger, from the nut.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    edges: BTreeMap<String, f64>,
    #[serde(skip_serializing_if = "Option::is_none")]
    finger: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    proof: Option<ProofView>,
    #[serde(skip_serializing_if = "Option::is_none")]
    heard: Option<HeardView>,
    /// Instead of `heard`: how far off, positive = sharp.
    #[serde(skip_serializing_if = "Option::is_none")]
    cents: Option<f64>,
    /// Positive for a longer string.
    #[serde(skip_serializing_if = "Option::is_none")]
    moved_mm: Option<f64>,
    /// The entry that does not count any more.
    #[serde(skip_serializing_if = "Option::is_none")]
    event: Option<Uuid>,
}

/// Entries.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeEntries {
    /// Up to 500. Read one by one, so that one that cannot be read does not hold up the others.
    #[schema(value_type = Vec<TapeEntry>)]
    entries: Vec<serde_json::Value>,
}

/// What became of entries.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "camelCase")]
pub struct TapeEntriesAnswer {
    /// One for each entry, in order.
    results: Vec<RecordResult>,
}

/// Takes in work on instruments' markers. Directors and assistants alike.
#[utoipa::path(post, path = "/api/classes/{class}/tapes/log", tag = "tapes",
    params(("class" = Uuid, Path, description = "The class")),
    request_body = TapeEntries,
    responses(
        (status = 200, body = TapeEntriesAnswer),
        ForMembersAsking,
    ))]
pub async fn add_tape_entries(
    State(app): State<App>,
    member: Member,
    Body(told): Body<TapeEntries>,
) -> Result<Json<TapeEntriesAnswer>, ApiError> {
    if told.entries.len() > MOST {
        let most = format!("At most {MOST} entries at once; send the rest in another request.");
        return Err(ApiError::Invalid(vec![FieldError::new("entries", most)]));
    }
    let now = app.now();
    let program = member.class.key.program;
    let known: BTreeMap<AssetId, Asset> =
        assets::all(&app.db, program).await?.into_iter().map(|asset| (asset.id, asset)).collect();
    let reader = Reader { app: &app, member: &member, known: &known, now };
    let read: Vec<_> = told.entries.into_iter().map(|entry| reader.read(entry)).collect();
    let good: Vec<Entry> = read.iter().filter_map(|entry| entry.as_ref().ok().cloned()).collect();
    let outcomes = if good.is_empty() { Vec::new() } else { tapes::add(&app.db, program, &good, now).await? };
    if outcomes.contains(&Outcome::Stored) {
        app.live.changed(member.class.key.class);
    }
    let mut outcomes = outcomes.into_iter();
    let answer = |read: Result<Entry, (Option<Uuid>, String)>| match read {
        Ok(entry) => {
            let id = Some(entry.event.id.uuid());
            match outcomes.next().unwrap_or(Outcome::StoredContext) {
                Outcome::Stored => RecordResult::new(id, OutcomeView::Stored, None),
                Outcome::StoredContext => RecordResult::new(id, OutcomeView::StoredContext, None),
                Outcome::IdTaken => {
                    let words = "Another entry has this id. Load the page again.".to_owned();
                    RecordResult::new(id, OutcomeView::Refused, Some(words))
                }
                Outcome::NoInstrument => RecordResult::new(id, OutcomeView::Refused, Some(NO_INSTRUMENT.to_owned())),
            }
        }
        Err((id, reason)) => RecordResult::new(id, OutcomeView::Refused, Some(reason)),
    };
    Ok(Json(TapeEntriesAnswer { results: read.into_iter().map(answer).collect() }))
}

const NO_INSTRUMENT: &str = "There is no such instrument in the store room (any more).";

struct Reader<'a> {
    app: &'a App,
    member: &'a Member,
    known: &'a BTreeMap<AssetId, Asset>,
    now: DateTime<Utc>,
}

impl Reader<'_> {
    /// An entry as it is kept, or its id as far as that could be read, with what is wrong.
    fn read(&self, value: serde_json::Value) -> Result<Entry, (Option<Uuid>, String)> {
        let id = value.get("id").and_then(|id| id.as_str()).and_then(|id| id.parse().ok());
        let wrong = |reason: String| (id, reason);
        let entry: TapeEntry =
            serde_json::from_value(value).map_err(|error| wrong(format!("This cannot be read: {error}.")))?;
        if entry.at > self.now + AHEAD {
            return Err(wrong("This lies in the future. Set the device's clock.".to_owned()));
        }
        let asset = self.known.get(&entry.asset.into()).ok_or_else(|| wrong(NO_INSTRUMENT.to_owned()))?;
        let work = self.work(&entry, asset).map_err(wrong)?;
        let event = TapeEvent { id: entry.id.into(), at: entry.at, work };
        Ok(Entry { asset: asset.id, event, account: self.member.account })
    }

    fn work(&self, entry: &TapeEntry, asset: &Asset) -> Result<TapeWork, String> {
        let on = asset.instrument;
        Ok(match entry.kind {
            TapeWorkKind::Measured => TapeWork::Measured { length_mm: self.length(entry, asset)? },
            TapeWorkKind::Placed => {
                let strips = self.app.tape_sets(&self.member.class)[&on].strips();
                TapeWork::Placed { spots: spots(entry, on)?, strips }
            }
            TapeWorkKind::Positions => TapeWork::Positions { edges: self.edges(entry, asset)? },
            TapeWorkKind::Heard => heard(entry, &self.app.content.instruments[&on])?,
            TapeWorkKind::Held => TapeWork::Held,
            TapeWorkKind::Loose => TapeWork::Loose { spots: spots(entry, on)? },
            TapeWorkKind::Missing => TapeWork::Missing { spots: spots(entry, on)? },
            TapeWorkKind::Bridge => TapeWork::Bridge { moved_mm: moved(entry, asset)? },
            TapeWorkKind::Strings => TapeWork::Strings,
            TapeWorkKind::Thinned => TapeWork::Thinned { spots: spots(entry, on)? },
            TapeWorkKind::Back => TapeWork::Back { spots: spots(entry, on)? },
            TapeWorkKind::Bare => TapeWork::Bare,
            TapeWorkKind::Undone => {
                let event = entry.event.ok_or("`event` says which entry does not count any more.")?;
                TapeWork::Undone { event: event.into() }
            }
        })
    }

    fn length(&self, entry: &TapeEntry, asset: &Asset) -> Result<f64, String> {
        let usual = || format!("A string is {MIN_STRING_MM} to {MAX_STRING_MM} mm long, nut to bridge.");
        let length = entry.length_mm.filter(|mm| mm.is_finite() && *mm > 0.0).ok_or_else(usual)?;
        let today = self.member.class.calendar.day_of(self.now);
        let checks = Checks { facts: &self.app.content.instruments, today };
        if let Some(fault) = checks.length_fault(asset.instrument, &asset.size, length) {
            return Err(fault.detail);
        }
        if (MIN_STRING_MM..=MAX_STRING_MM).contains(&length) { Ok(length) } else { Err(usual()) }
    }

    fn edges(&self, entry: &TapeEntry, asset: &Asset) -> Result<BTreeMap<Finger, f64>, String> {
        let mut edges = BTreeMap::new();
        for (id, mm) in &entry.edges {
            edges.insert(finger(id, asset.instrument)?, *mm);
        }
        let length = asset.string_length_mm.ok_or("Measure the string first: from the nut to the bridge.")?;
        if edges.is_empty() {
            return Err("`edges` says where markers lie.".to_owned());
        }
        let fingers: Vec<Finger> = edges.keys().copied().collect();
        let laying = &self.member.class.marker_settings;
        let found = positions(asset.instrument, length, laying, &fingers, &edges).map_err(|fault| fault.to_string())?;
        for place in &found {
            let off = place.measured.map_or(0.0, |measured| measured.move_mm).abs();
            // Farther than the room to the next finger: it was read or typed wrongly, or is another finger's.
            if off > place.gap_mm.max(place.distance_mm / 2.0) {
                let (finger, target) = (place.finger.spoken(), place.edge_mm);
                return Err(format!("Marker {finger} belongs near {target:.1} mm: measure from the nut's edge again."));
            }
        }
        Ok(edges)
    }
}

fn finger(id: &str, on: Instrument) -> Result<Finger, String> {
    let finger = Finger::parse(id).filter(|finger| finger.semitones(on).is_some());
    finger.ok_or_else(|| format!("The {} has no marker “{id}” in first position.", on.name()))
}

fn spots(entry: &TapeEntry, on: Instrument) -> Result<BTreeSet<Spot>, String> {
    let spot = |id: &String| {
        let spot = Spot::parse(id).filter(|spot| spot.is_on(on));
        spot.ok_or_else(|| format!("The {} has no marker “{id}”.", on.name()))
    };
    let spots: BTreeSet<Spot> = entry.spots.iter().map(spot).collect::<Result<_, _>>()?;
    if spots.is_empty() { Err("`spots` says which markers.".to_owned()) } else { Ok(spots) }
}

fn heard(entry: &TapeEntry, facts: &InstrumentFacts) -> Result<TapeWork, String> {
    let on = facts.instrument;
    let finger = finger(entry.finger.as_deref().unwrap_or_default(), on)?;
    // Nothing to compare with is never a pass.
    let proof = match entry.proof.ok_or("`proof` says what it was compared with.")? {
        ProofView::OpenString => Proof::OpenString,
        ProofView::Step => Proof::Step,
        ProofView::Tone => Proof::Tone,
        ProofView::Tuner => Proof::Tuner,
    };
    let heard = match (entry.heard, entry.cents) {
        (None, Some(cents)) if cents.abs() <= CENTS_MOST => Heard::Cents(cents),
        (None, Some(_)) => return Err(format!("More than {CENTS_MOST} cents off is another note: tune first.")),
        (Some(HeardView::True), None) => Heard::True,
        (Some(HeardView::High), None) => Heard::High,
        (Some(HeardView::Low), None) => Heard::Low,
        _ => return Err("`heard` or `cents`, one of them.".to_owned()),
    };
    // An open string proves only a marker that can be compared with one.
    let comparable = finger.semitones(on).is_some_and(|semitones| !ear_checks(facts, semitones).is_empty());
    if matches!(proof, Proof::OpenString) && !comparable {
        return Err(format!(
            "Marker {} has no open string to compare with: use steps, a tone or a tuner.",
            finger.spoken()
        ));
    }
    Ok(TapeWork::Heard { finger, proof, heard })
}

fn moved(entry: &TapeEntry, asset: &Asset) -> Result<Option<f64>, String> {
    let Some(moved) = entry.moved_mm else { return Ok(None) };
    let after = asset.string_length_mm.map_or(MIN_STRING_MM, |length| length + moved);
    if moved.is_finite() && moved.abs() <= BRIDGE_MOST_MM && (MIN_STRING_MM..=MAX_STRING_MM).contains(&after) {
        Ok(Some(moved))
    } else {
        Err(format!("A bridge moves by at most {BRIDGE_MOST_MM} mm; one that fell is a luthier's work."))
    }
}
