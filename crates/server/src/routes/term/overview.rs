//! How a class grew: read from everything that was ever observed.

use std::collections::{BTreeMap, BTreeSet};

use axum::Json;
use axum::extract::State;
use bright_row_core::craft::id::{SlipId, StageId};
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::craft::strand::Strand;
use bright_row_core::number::share;
use bright_row_core::progress::observation::Via;
use bright_row_core::tapes::log::TapeWork;
use bright_row_core::term::growth::Growth;
use bright_row_core::term::looks::{Waits, seconds_of_looking};
use bright_row_core::term::past::{Past, Span};
use bright_row_core::term::room::{RoomThen, room};
use bright_row_core::term::slips::{SlipThen, slips};
use bright_row_core::term::stages::reached;
use bright_row_core::{AssetId, ChildId};
use bright_row_store::classes::calendar;
use chrono::{NaiveDate, TimeDelta};

use super::views::{
    ChildThen, Holiday, InstrumentChange, MarkersWorked, MeetingThen, ReachedAt, ReachedView, SectionWaits, SlipKind,
    SlipTime, StageThen, StrandWaits, TermView,
};
use crate::auth::guard::Member;
use crate::error::ApiError;
use crate::error::answers::ForMembers;
use crate::routes::lessons::overview::ChildName;
use crate::state::App;
use crate::use_cases::snapshot::ClassSnapshot;
use crate::use_cases::term_past::ClassPast;

/// Days off that lie closer together than this are one holiday: weekends lie between them.
const ONE_HOLIDAY: TimeDelta = TimeDelta::days(4);

/// How the class grew, meeting by meeting: brightness, stages, waits, slips, small groups.
#[utoipa::path(get, path = "/api/classes/{class}/term", tag = "term",
    params(("class" = Uuid, Path, description = "The class")),
    responses(
        (status = 200, body = TermView),
        ForMembers,
    ))]
pub async fn term(State(app): State<App>, member: Member) -> Result<Json<TermView>, ApiError> {
    let snapshot = ClassSnapshot::new(&app, &member.class);
    let past = ClassPast::read(&snapshot).await?;
    let days_off = calendar::of_class(&app.db, member.class.key).await?.days_off;
    let read = Read::new(&snapshot, &past);
    Ok(Json(TermView {
        meetings: read.meetings(),
        holidays: holidays(days_off, read.first_day(), member.class.calendar.day_of(app.now())),
        stages: read.stages(),
        strands: read.strands(),
        sections: read.sections(),
        slips: read.slip_kinds(),
        groups: read.groups(),
        children: read.children(),
    }))
}

/// A class's past, read.
pub(super) struct Read<'a> {
    pub(super) snapshot: &'a ClassSnapshot<'a>,
    pub(super) past: &'a ClassPast,
    pub(super) span: Span<'a>,
    /// In walking order, like everything that follows.
    pub(super) pasts: Vec<Past<'a>>,
    /// Each with what the child plays now.
    pub(super) growths: Vec<(Instrument, Growth)>,
    pub(super) names: BTreeMap<ChildId, ChildName>,
}

impl<'a> Read<'a> {
    pub(super) fn new(snapshot: &'a ClassSnapshot<'a>, past: &'a ClassPast) -> Self {
        let span = ClassPast::span(snapshot);
        let pasts = past.pasts(snapshot);
        let growths = pasts.iter().map(|past| (past.playing.now, Growth::of(past, &span))).collect();
        let name = |learner: &crate::use_cases::snapshot::Learner| {
            let child = &learner.child;
            (child.id, ChildName::new(child.id, child.name.clone(), child.playing.now))
        };
        let names = past.learners.iter().map(name).collect();
        Self { snapshot, past, span, pasts, growths, names }
    }

    pub(super) fn day(&self, meeting: u32) -> Option<NaiveDate> {
        self.span.calendar.date_of(meeting)
    }

    fn first_day(&self) -> Option<NaiveDate> {
        self.day(1)
    }

    pub(super) fn room(&self) -> Vec<RoomThen> {
        let growths: Vec<Growth> = self.growths.iter().map(|(_, growth)| growth.clone()).collect();
        room(&growths)
    }

    pub(super) fn meetings(&self) -> Vec<MeetingThen> {
        let seconds = seconds_of_looking(self.pasts.iter().flat_map(|past| past.seen.iter().copied()), &self.span);
        let mut visited: BTreeMap<u32, BTreeSet<ChildId>> = BTreeMap::new();
        for past in &self.pasts {
            for look in past.seen.iter().filter(|look| look.via == Via::Visit) {
                visited.entry(self.span.calendar.meeting_at(look.observed_at)).or_default().insert(past.child);
            }
        }
        let mut worked = self.markers_worked();
        let then = |then: RoomThen| {
            let seconds = seconds.get(&then.meeting).copied().unwrap_or_default();
            Some(MeetingThen {
                meeting: then.meeting,
                day: self.day(then.meeting)?,
                children: then.children,
                strands: then.strands.map(share).to_vec(),
                sections: then.sections.into_iter().map(|(section, bright)| (section, share(bright))).collect(),
                visited: visited.get(&then.meeting).map_or(0, BTreeSet::len),
                minutes: share(TimeDelta::seconds(seconds).as_seconds_f64() / 60.0),
                markers: worked.remove(&then.meeting).unwrap_or_default(),
            })
        };
        self.room().into_iter().filter_map(then).collect()
    }

    /// At how many instruments markers were worked on while somebody of the class had them, by meeting.
    fn markers_worked(&self) -> BTreeMap<u32, MarkersWorked> {
        type Touched = [BTreeSet<AssetId>; 3];
        let mut touched: BTreeMap<u32, Touched> = BTreeMap::new();
        for holding in &self.past.held {
            let had = |at| holding.since <= at && holding.until.is_none_or(|until| at < until);
            for entry in self.past.log(holding.asset).iter().filter(|entry| had(entry.at)) {
                let kind = match entry.work {
                    TapeWork::Placed { .. } | TapeWork::Back { .. } => 0,
                    TapeWork::Heard { .. } | TapeWork::Held => 1,
                    TapeWork::Thinned { .. } | TapeWork::Bare => 2,
                    _ => continue,
                };
                let meeting = self.span.calendar.meeting_at(entry.at);
                touched.entry(meeting).or_default()[kind].insert(holding.asset);
            }
        }
        let counted = |[laid, proved, thinned]: Touched| MarkersWorked {
            laid: laid.len(),
            proved: proved.len(),
            thinned: thinned.len(),
        };
        touched.into_iter().map(|(meeting, touched)| (meeting, counted(touched))).collect()
    }

    /// The stages as the class reads them.
    pub(super) fn stages(&self) -> Vec<StageThen> {
        let checklist = &self.snapshot.checklist;
        let stage = |stage: &bright_row_core::craft::checklist::Stage| StageThen {
            id: stage.id.to_string(),
            name: checklist.target_name(stage.id.as_str()),
            strand: stage.strand,
            reached: reached(&self.growths, &stage.id)
                .into_iter()
                .map(|found| ReachedView {
                    section: found.section,
                    there: found.there,
                    of: found.of,
                    most: found.most.and_then(|meeting| self.day(meeting)),
                })
                .collect(),
        };
        checklist.stages().iter().map(stage).collect()
    }

    fn strands(&self) -> Vec<StrandWaits> {
        let waits: Vec<[Waits; 4]> = self.pasts.iter().map(|past| Waits::for_strands(past, &self.span)).collect();
        let together = |(place, strand): (usize, Strand)| {
            let of_strand: Vec<Waits> = waits.iter().map(|of_child| of_child[place]).collect();
            StrandWaits { strand, waits: Waits::together(&of_strand).into() }
        };
        Strand::ALL.into_iter().enumerate().map(together).collect()
    }

    pub(super) fn sections(&self) -> Vec<SectionWaits> {
        let section = |section: Instrument| {
            let here = self.pasts.iter().filter(|past| past.playing.now == section);
            let waits: Vec<Waits> = here.map(|past| Waits::for_visits(past, &self.span)).collect();
            SectionWaits { section, children: waits.len(), waits: Waits::together(&waits).into() }
        };
        Instrument::ALL.into_iter().map(section).filter(|section| section.children > 0).collect()
    }

    pub(super) fn slip_kinds(&self) -> Vec<SlipKind> {
        let mut kinds: BTreeMap<SlipId, Vec<SlipThen>> = BTreeMap::new();
        for slip in self.pasts.iter().flat_map(|past| slips(past, &self.span)) {
            kinds.entry(slip.slip.clone()).or_default().push(slip);
        }
        let checklist = &self.snapshot.checklist;
        let kind = |(id, mut times): (SlipId, Vec<SlipThen>)| {
            times.sort_by_key(|time| time.from);
            let gone: Vec<f64> = times.iter().filter_map(SlipThen::gone_after).map(f64::from).collect();
            let count = u32::try_from(gone.len()).unwrap_or(u32::MAX);
            let children = |times: &mut dyn Iterator<Item = &SlipThen>| {
                times.map(|time| time.child).collect::<BTreeSet<_>>().len()
            };
            let known = checklist.slip(id.as_str());
            let at = known.map(|slip| slip.checkpoint.as_str()).unwrap_or_default();
            SlipKind {
                name: known.map_or_else(|| id.to_string(), |slip| slip.name.clone()),
                checkpoint_name: checklist.target_name(at),
                strand: checklist.checkpoint(at).map(|checkpoint| checklist.strand_of(checkpoint)),
                children: children(&mut times.iter()),
                still: children(&mut times.iter().filter(|time| time.until.is_none())),
                gone_after: (count > 0).then(|| share(gone.iter().sum::<f64>() / f64::from(count))),
                times: times
                    .iter()
                    .map(|time| SlipTime { child: time.child, from: time.from, until: time.until })
                    .collect(),
                slip: id.to_string(),
            }
        };
        let mut kinds: Vec<SlipKind> = kinds.into_iter().map(kind).collect();
        kinds.sort_by_key(|kind| std::cmp::Reverse(kind.children));
        kinds
    }

    pub(super) fn children(&self) -> Vec<ChildThen> {
        let order: BTreeMap<&StageId, usize> =
            self.snapshot.checklist.stages().iter().enumerate().map(|(place, stage)| (&stage.id, place)).collect();
        let child = |(past, (_, growth)): (&Past<'_>, &(Instrument, Growth))| {
            let mut reached: Vec<_> = growth.reached.iter().collect();
            reached.sort_by_key(|(stage, meeting)| (**meeting, order.get(stage)));
            let then = |found: Option<&Option<bright_row_core::term::growth::Then>>| {
                found.copied().flatten().map_or([0.0; 4], |then| then.glow).map(share).to_vec()
            };
            Some(ChildThen {
                child: self.names.get(&past.child)?.clone(),
                moved: self.past.moved.contains(&past.child),
                joined: past.joined,
                strands: then(growth.then.last()),
                strands_then: then(growth.then.iter().find(|then| then.is_some())),
                waits: Waits::for_visits(past, &self.span).into(),
                reached: reached
                    .into_iter()
                    .map(|(stage, meeting)| ReachedAt { stage: stage.to_string(), meeting: *meeting })
                    .collect(),
                changes: self.changes(past.child),
            })
        };
        self.pasts.iter().zip(&self.growths).filter_map(child).collect()
    }

    /// When a child got another instrument in the place of one.
    fn changes(&self, child: ChildId) -> Vec<InstrumentChange> {
        let held: Vec<_> = self.past.held.iter().filter(|holding| holding.child == child).collect();
        let named = |holding: &bright_row_store::instruments::held::Holding| {
            format!("{} {}", holding.instrument.name(), holding.size)
        };
        let pairs = held.windows(2).filter(|pair| pair[0].asset != pair[1].asset);
        let change = |pair: &[&bright_row_store::instruments::held::Holding]| InstrumentChange {
            meeting: self.span.calendar.meeting_at(pair[1].since),
            from: named(pair[0]),
            to: named(pair[1]),
        };
        pairs.map(change).collect()
    }
}

/// Days off from the first meeting to today; what lies close together for one reason is one.
fn holidays(off: BTreeMap<NaiveDate, String>, first: Option<NaiveDate>, today: NaiveDate) -> Vec<Holiday> {
    let mut found: Vec<Holiday> = Vec::new();
    let here = |day: &NaiveDate| first.is_some_and(|first| first <= *day) && *day <= today;
    for (day, reason) in off.into_iter().filter(|(day, _)| here(day)) {
        match found.last_mut() {
            Some(last) if last.reason == reason && day - last.last <= ONE_HOLIDAY => last.last = day,
            _ => found.push(Holiday { first: day, last: day, reason }),
        }
    }
    found
}
