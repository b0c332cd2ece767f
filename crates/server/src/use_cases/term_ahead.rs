//! The term ahead of a class: read once, then played many times on threads of its own.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::thread;
use std::time::{Duration, Instant};

use bright_row_core::ChildId;
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Playing;
use bright_row_core::progress::context::ChildContext;
use bright_row_core::progress::next::Order;
use bright_row_core::progress::observation::Observation;
use bright_row_core::progress::rhythm::Rhythm;
use bright_row_core::progress::standing::{Standing, standings};
use bright_row_core::progress::visits::Unseen;
use bright_row_core::round::class_rates::Evidence;
use bright_row_core::round::forecast::{Class as Kept, Forecast, Prospect, Run};
use bright_row_core::tapes::assessment::MarkerAssessment;
use bright_row_core::term::markers_then::markers_at;
use bright_row_core::term::past::{Past, Span};
use bright_row_store::classes::Class;
use bright_row_store::observations::attribution::attributed;
use chrono::NaiveDate;
use rand::{RngExt, SeedableRng};
use rand_chacha::ChaCha8Rng;
use tokio::sync::Semaphore;

use crate::error::ApiError;
use crate::state::App;
use crate::use_cases::snapshot::{ClassSnapshot, Learner};
use crate::use_cases::term_past::ClassPast;

/// So many meetings are played forward.
pub(crate) const MAX_MEETINGS_AHEAD: u32 = 40;
/// Terms played at once: each takes every processor for a while.
const AT_ONCE: usize = 1;
/// No term is played by more threads.
const MOST_THREADS: usize = 4;
/// What the random numbers of the first run begin with: the same class gives the same picture.
const SEED: u64 = 1;

static TURNS: Semaphore = Semaphore::const_new(AT_ONCE);

/// A child with what the forecast reads of it.
struct Member {
    learner: Learner,
    last_visit: u32,
    joined: u32,
    evidence: Evidence,
}

/// The class with everything that a forecast reads, to be taken to another thread.
pub(crate) struct Term {
    app: App,
    class: Arc<Class>,
    now: u32,
    /// In walking order.
    members: Vec<Member>,
}

/// What a child was like when a meeting was over.
struct Then {
    playing: Playing,
    standings: BTreeMap<CheckpointId, Standing>,
    tapes: Option<MarkerAssessment>,
    evidence: Evidence,
}

fn stood_then(past: &Past<'_>, span: &Span<'_>, meeting: u32) -> Then {
    let until = past.seen.iter().filter(|look| span.calendar.meeting_at(look.observed_at) <= meeting);
    let seen: Vec<Observation> = until.map(|look| (*look).clone()).collect();
    let before = past.playing.before.iter().filter(|(until, _)| span.calendar.meeting_at(*until) <= meeting);
    Then {
        playing: Playing { now: past.played_at(span, meeting), before: before.copied().collect() },
        standings: standings(past.checklist, &seen, span.calendar, span.rhythm),
        tapes: markers_at(&past.held, span, meeting),
        evidence: Evidence::of(past.checklist, &seen, span.calendar),
    }
}

/// Nobody waits for the answer any more once this is gone.
struct Asked(Arc<AtomicBool>);

impl Drop for Asked {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// How often a term is played: a slow machine plays it less often than a fast one.
#[derive(Clone, Copy)]
pub(crate) struct Effort {
    /// No more runs than this.
    pub(crate) most: u64,
    /// At least so many, however long they take.
    pub(crate) least: u64,
    /// No run begins after this time but for the least.
    pub(crate) time: Duration,
}

/// The class with everything that it keeps to and its children, while it is played.
pub(crate) struct Played<'a> {
    kept: Kept<'a>,
    prospects: Vec<Prospect<'a>>,
    term: &'a Term,
    stopped: &'a (dyn Fn() -> bool + Sync),
}

impl Term {
    pub(crate) async fn read(app: App, class: Arc<Class>) -> Result<Self, ApiError> {
        let (members, now) = {
            let snapshot = ClassSnapshot::new(&app, &class);
            let mut learners = snapshot.learners().await?;
            learners.sort_by_cached_key(Learner::walking_key);
            let children = learners.iter().map(|learner| learner.child.id).collect();
            let mut observations = attributed(&app.db, class.key.program, &children, None).await?;
            let member = |learner: Learner| {
                let observed = observations.remove(&learner.child.id).unwrap_or_default();
                let unseen = snapshot.unseen(&learner.child, &learner.standings).meetings;
                let before_joining = learner.child.joined_on.pred_opt();
                Member {
                    last_visit: snapshot.now.saturating_sub(unseen),
                    joined: before_joining.map_or(0, |day| class.calendar.meeting_on(day)),
                    evidence: Evidence::of(&learner.checklist, &observed, &class.calendar),
                    learner,
                }
            };
            (learners.into_iter().map(member).collect(), snapshot.now)
        };
        Ok(Self { app, class, now, members })
    }

    /// The class as it stood when a meeting was over, read from what had been seen until then. What counts for children besides,
    /// as what does not apply to them, is as it is now.
    ///
    /// # Errors
    /// [`ApiError::Store`].
    pub(crate) async fn read_then(app: App, class: Arc<Class>, meeting: u32) -> Result<Self, ApiError> {
        let members = {
            let snapshot = ClassSnapshot::new(&app, &class);
            let past = ClassPast::read(&snapshot).await?;
            let span = ClassPast::span(&snapshot);
            let then: Vec<_> = past
                .pasts(&snapshot)
                .iter()
                .map(|past| (past.joined <= meeting).then(|| stood_then(past, &span, meeting)))
                .collect();
            let learners = past.learners.into_iter().zip(then);
            let member = |(learner, then): (Learner, Option<Then>)| {
                let Then { playing, standings, tapes, evidence } = then?;
                let Learner { mut child, mut context, ladder, checklist, .. } = learner;
                let unseen = Unseen::at(meeting, &class.calendar, child.joined_on, &standings).meetings;
                let before_joining = child.joined_on.pred_opt();
                child.playing = playing;
                context.context = ChildContext { tapes, pain: BTreeSet::new(), ..context.context };
                Some(Member {
                    last_visit: meeting.saturating_sub(unseen),
                    joined: before_joining.map_or(0, |day| class.calendar.meeting_on(day)),
                    evidence,
                    learner: Learner { child, context, standings, ladder, checklist },
                })
            };
            learners.filter_map(member).collect()
        };
        Ok(Self { app, class, now: meeting, members })
    }

    /// Who is in it, in walking order.
    pub(crate) fn ids(&self) -> Vec<ChildId> {
        self.members.iter().map(|member| member.learner.child.id).collect()
    }

    pub(crate) fn children(&self) -> usize {
        self.members.len()
    }

    pub(crate) fn rhythm(&self) -> Rhythm {
        self.class.rhythm
    }

    /// Seconds for looking at a meeting; short days keep their own.
    fn seconds(&self, day: NaiveDate, minutes: u32) -> u32 {
        self.class.short_days.get(&day).copied().unwrap_or(minutes) * 60
    }

    /// Minutes for looking at a meeting.
    pub(crate) fn minutes(&self, day: NaiveDate, minutes: u32) -> u32 {
        self.seconds(day, minutes) / 60
    }

    /// The day of a meeting.
    pub(crate) fn day(&self, meeting: u32) -> Option<NaiveDate> {
        self.class.calendar.date_of(meeting)
    }

    /// The id and the name of the stage at a place.
    pub(crate) fn stage(&self, place: usize) -> Option<(String, String)> {
        let checklist = &self.members.first()?.learner.checklist;
        let stage = checklist.stages().get(place)?;
        Some((stage.id.to_string(), checklist.target_name(stage.id.as_str())))
    }

    /// Works on a thread of its own once it is its turn, and gives up when nobody waits any more.
    pub(crate) async fn play<T: Send + 'static>(
        self,
        by: impl FnOnce(&Played<'_>) -> T + Send + 'static,
    ) -> Result<T, ApiError> {
        let turn = TURNS.acquire().await.map_err(|error| ApiError::Internal(error.to_string()))?;
        let gone = Arc::new(AtomicBool::new(false));
        let asked = Asked(Arc::clone(&gone));
        let work = tokio::task::spawn_blocking(move || {
            let answer = by(&self.played(&|| gone.load(Ordering::Relaxed)));
            // Whoever goes away gives the turn back only once the work has noticed.
            drop(turn);
            answer
        });
        let done = work.await.map_err(|error| ApiError::Internal(error.to_string()));
        drop(asked);
        done
    }

    fn played<'a>(&'a self, stopped: &'a (dyn Fn() -> bool + Sync)) -> Played<'a> {
        let Class { calendar, rhythm, round, choices, .. } = &*self.class;
        let kept = Kept {
            calendar,
            rhythm,
            causes: &self.app.content.causes,
            order: Order::of(&self.app.content.approach, choices),
            visit_seconds: round.visit_seconds,
            max_checks_per_child: usize::try_from(round.max_checks).unwrap_or(usize::MAX),
            must_see_after_meetings: round.must_see_after,
        };
        let prospect = |member: &'a Member| Prospect {
            checklist: &member.learner.checklist,
            playing: &member.learner.child.playing,
            context: &member.learner.context.context,
            standings: &member.learner.standings,
            last_visit: member.last_visit,
            joined: member.joined,
            evidence: member.evidence.clone(),
        };
        Played { kept, prospects: self.members.iter().map(prospect).collect(), term: self, stopped }
    }
}

impl<'a> Played<'a> {
    pub(crate) fn term(&self) -> &'a Term {
        self.term
    }

    /// The meetings to come by a rhythm.
    pub(crate) fn forecast(&self, rhythm: Rhythm) -> Forecast<'a> {
        Forecast::new(self.kept, &self.prospects, rhythm, self.term.now, MAX_MEETINGS_AHEAD)
    }

    /// Runs with so many minutes a meeting, on every processor; `None` once nobody waits any more.
    pub(crate) fn runs(&self, forecast: &Forecast<'_>, minutes: u32, effort: Effort) -> Option<Vec<Run>> {
        let begun = Instant::now();

        let seconds = |day| self.term.seconds(day, minutes);
        let run = |number: u64| {
            let mut numbers = ChaCha8Rng::seed_from_u64(SEED.wrapping_add(number));
            forecast.run(&seconds, self.stopped, &mut || numbers.random::<f64>())
        };
        let threads = thread::available_parallelism().map_or(1, usize::from).min(MOST_THREADS);
        thread::scope(|scope| {
            let goes_on = |number: u64| number < effort.least || begun.elapsed() < effort.time;
            let part = |first: u64| {
                let numbers = (first..effort.most).step_by(threads).take_while(move |number| goes_on(*number));
                move || numbers.map(run).collect::<Option<Vec<Run>>>()
            };
            let parts: Vec<_> = (0..).take(threads).map(|first| scope.spawn(part(first))).collect();
            let parts = parts.into_iter().map(|part| part.join().ok().flatten());
            Some(parts.collect::<Option<Vec<_>>>()?.into_iter().flatten().collect())
        })
    }
}
