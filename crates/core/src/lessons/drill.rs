//! A drill as it is run: every beat in order, with the rests where arms and fingers need them.

use serde::{Deserialize, Serialize};

use crate::craft::drills::{Drill, DrillLevel, DrillStep, MAX_TEMPO, MIN_TEMPO};
use crate::lessons::lesson::REST_AFTER_SECONDS;
use crate::worded::worded;

/// Beats that are counted before the first step.
pub const READY_BEATS: u32 = 4;
/// A rest of the arms takes at least so many seconds.
pub const REST_SECONDS: u32 = 10;
/// Whole rests: their beats are a multiple of this, so that the next step begins on a first beat.
const BEATS_OF_A_BAR: u32 = 4;
/// What is said and shown around a drill, in seconds: part of the minutes that a lesson gives it.
const AROUND_SECONDS: u32 = 60;

worded! {
    /// What happens in a part of a drill.
    SegmentKind {
        /// The count before it begins.
        Ready = "ready",
        /// A step.
        Step = "step",
        /// Everything down, shake out.
        Rest = "rest",
    }
}

/// Some beats of a drill in which the same is done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct DrillSegment {
    /// What.
    pub kind: SegmentKind,
    /// The step, from 0, of a segment that is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub step: Option<usize>,
    /// The round, from 1.
    pub round: u32,
    /// Which time of a step that is repeated, from 1.
    pub time: u32,
    /// The beat with which it begins, from 0.
    pub first_beat: u32,
    /// How many beats it takes.
    pub beats: u32,
}

/// A drill from its count-in to its end.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "camelCase")]
pub struct DrillProgram {
    /// One after another, without a gap.
    pub segments: Vec<DrillSegment>,
    /// Beats in all: so many ticks are heard.
    pub beats: u32,
    /// How long it takes, in whole seconds, rounded up.
    pub seconds: u32,
    /// Seconds in which somebody holds up or presses, rounded up.
    pub load_seconds: u32,
}

impl Drill {
    /// The steps played at a level, each with its index. Without a level, those of the easiest.
    pub(crate) fn played(&self, level: Option<DrillLevel>) -> impl Iterator<Item = (usize, &DrillStep)> {
        let level = level.filter(|level| self.levels.contains(level)).or(self.levels.first().copied());
        let is_played = move |step: &DrillStep| match level {
            None => true,
            Some(level) if !step.only.is_empty() => step.only.contains(&level),
            Some(level) => !step.quiet || level == DrillLevel::Rests,
        };
        self.steps.iter().enumerate().filter(move |(_, step)| is_played(step))
    }

    /// The whole drill at a level and a tempo (beats a minute, kept within 40 to 120). Arms rest between rounds in which
    /// they held or pressed, and wherever the load since the last rest would pass [`REST_AFTER_SECONDS`].
    #[must_use]
    pub fn program(&self, level: Option<DrillLevel>, tempo: u32) -> DrillProgram {
        let mut writing = Writing::new(tempo);
        writing.push(SegmentKind::Ready, None, (1, 1), READY_BEATS);
        for round in 1..=self.rounds {
            for (index, step) in self.played(level) {
                for time in 1..=step.repeats {
                    writing.step(index, step, (round, time));
                }
            }
            if round < self.rounds && writing.loaded > 0 {
                writing.rest(round);
            }
        }
        writing.program
    }

    /// Minutes that a lesson gives it: the easiest level at its own tempo, and a minute around it.
    #[must_use]
    pub fn minutes(&self) -> u32 {
        (self.program(None, self.tempo).seconds + AROUND_SECONDS).div_ceil(60)
    }
}

/// A program that is being written.
struct Writing {
    tempo: u32,
    /// Loaded beats since the last rest, and in all.
    loaded: u32,
    loaded_in_all: u32,
    program: DrillProgram,
}

impl Writing {
    fn new(tempo: u32) -> Self {
        let program = DrillProgram { segments: Vec::new(), beats: 0, seconds: 0, load_seconds: 0 };
        Self { tempo: tempo.clamp(MIN_TEMPO, MAX_TEMPO), loaded: 0, loaded_in_all: 0, program }
    }

    /// Whole seconds of so many beats, rounded up.
    const fn seconds(&self, beats: u32) -> u32 {
        (beats * 60).div_ceil(self.tempo)
    }

    fn step(&mut self, index: usize, step: &DrillStep, (round, time): (u32, u32)) {
        if step.load {
            if self.loaded > 0 && self.seconds(self.loaded + step.beats) > REST_AFTER_SECONDS {
                self.rest(round);
            }
            self.loaded += step.beats;
            self.loaded_in_all += step.beats;
        }
        self.push(SegmentKind::Step, Some(index), (round, time), step.beats);
        self.program.load_seconds = self.seconds(self.loaded_in_all);
    }

    fn rest(&mut self, round: u32) {
        let beats = (REST_SECONDS * self.tempo).div_ceil(60).next_multiple_of(BEATS_OF_A_BAR);
        self.push(SegmentKind::Rest, None, (round, 1), beats);
        self.loaded = 0;
    }

    fn push(&mut self, kind: SegmentKind, step: Option<usize>, (round, time): (u32, u32), beats: u32) {
        let first_beat = self.program.beats;
        self.program.segments.push(DrillSegment { kind, step, round, time, first_beat, beats });
        self.program.beats += beats;
        self.program.seconds = self.seconds(self.program.beats);
    }
}
