//! A child of a real class before its meetings to come are played: how it stands, and what may have come about since.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};

use crate::craft::checklist::Checklist;
use crate::craft::id::CheckpointId;
use crate::craft::needs_by_place::NeedAt;
use crate::craft::strand::Strand;
use crate::progress::projection::StandingProjection;
use crate::progress::rhythm::{REACHES, Rhythm};
use crate::progress::standing::Standing;
use crate::round::class_rates::drawn;
use crate::round::forecast::{Class, Prospect};
use crate::round::play::{Chance, Player, Setting};
use crate::round::rates::{ClassRates, Rates};
use crate::round::reading::Reading;

/// A child before a run.
pub(super) struct Start<'a> {
    pub(super) player: Player<'a>,
    /// What may have come about since the last look: places with the meeting of that look, and whether it helped.
    since: Vec<(usize, u32, bool)>,
    paces: Vec<(f64, f64)>,
}

/// The tape stage of markers that are heard.
const HEARD: u32 = 3;

fn is_tape_on(checklist: &Checklist, stage: usize) -> bool {
    let stage = &checklist.stages()[stage];
    stage.strand == Strand::Tape && stage.number <= HEARD
}

impl<'a> Start<'a> {
    pub(super) fn of(class: &Class<'a>, child: &Prospect<'a>, rhythm: &Rhythm, now: u32, rates: &ClassRates) -> Self {
        let Prospect { checklist, playing, context, standings, .. } = *child;
        let mut player = Player::new(checklist, playing, context, 1.0).with_standings(standings, class.rhythm, rhythm);
        player.last_visit = child.last_visit;
        let setting = Setting { calendar: class.calendar, rhythm, causes: class.causes };
        let ladder = player.ladder(&setting, now);
        let open = Reading::of(checklist, &ladder, Vec::new(), now).open;
        let since = Self::since(class, child, &open);
        let at = class.calendar.begins(class.calendar.date_of(now).unwrap_or_default());
        if ladder.tapes.state.stage() < HEARD {
            for stage in (0..checklist.stages().len()).filter(|stage| is_tape_on(checklist, *stage)) {
                for place in checklist.places_of(stage) {
                    player.stands_at(place, (at, now), rhythm);
                }
            }
        }
        Self { player, since, paces: child.evidence.paces(rates) }
    }

    /// Where something may have come about since the last look, in stages that are worked on. What nobody has looked at yet
    /// could since the last look that opened its stage.
    fn since(class: &Class<'_>, child: &Prospect<'_>, open: &[bool]) -> Vec<(usize, u32, bool)> {
        let checklist = child.checklist;
        let meeting = |at| class.calendar.meeting_at(at);
        let mut since = Vec::new();
        for (stage, _) in open.iter().enumerate().filter(|(_, open)| **open) {
            let needs = checklist.needs_at(stage, child.playing.now).iter();
            let waited_for = needs.flat_map(|need| match need {
                NeedAt::Stage(Some(stage)) => checklist.places_of(*stage),
                NeedAt::Checkpoint(Some((place, _)), _) => *place..place + 1,
                NeedAt::Stage(None) | NeedAt::Checkpoint(None, _) => 0..0,
            });
            let passed = waited_for.filter_map(|place| {
                child.standings.get(&checklist.checkpoints()[place].id).and_then(|standing| standing.passed_at)
            });
            let opened = passed.max().map_or(child.joined, meeting);
            for place in checklist.places_of(stage) {
                let standing = child.standings.get(&checklist.checkpoints()[place].id);
                since.push(match standing {
                    None => (place, opened, false),
                    Some(seen) => {
                        let helped = seen.level < REACHES && seen.visited_at == Some(seen.looked_at);
                        (place, meeting(seen.looked_at), helped)
                    }
                });
            }
        }
        since
    }

    /// The child in one run.
    pub(super) fn begins(&self, now: u32, rates: &ClassRates, chance: &mut Chance<'_>) -> Player<'a> {
        let mut player = self.player.clone();
        player.pace = drawn(&self.paces, chance).unwrap_or(1.0);
        let checklist = player.checklist;
        for (place, since, helped) in &self.since {
            let strand = checklist.strand_of(&checklist.checkpoints()[*place]);
            player.catches_up(*place, (*since, now), *helped, rates.of(strand), chance);
        }
        player
    }
}

impl Player<'_> {
    /// A child that stands like this, as if it could really do what was seen of it.
    #[must_use]
    pub(super) fn with_standings(
        self,
        standings: &BTreeMap<CheckpointId, Standing>,
        was: &Rhythm,
        rhythm: &Rhythm,
    ) -> Self {
        let mut player = self;
        for (id, standing) in standings {
            let Some(place) = player.checklist.place(id.as_str()) else { continue };
            let projection = StandingProjection::from(standing.clone(), was).by(was, rhythm);
            player.truth[place] = Some(standing.level);
            player.standings.insert(id.clone(), projection.standing.clone());
            player.seen[place] = Some(projection);
        }
        player
    }

    /// Looked at by somebody now, and found to stand.
    pub(super) fn stands_at(&mut self, place: usize, at: (DateTime<Utc>, u32), rhythm: &Rhythm) {
        self.see(place, at, REACHES, false, rhythm);
    }

    /// What may have come about at a place between the meeting `since` and `now`, after the look then; `helped` where that look
    /// was a visit that found it below Alone.
    pub(super) fn catches_up(
        &mut self,
        place: usize,
        (since, now): (u32, u32),
        helped: bool,
        rates: &Rates,
        chance: &mut Chance<'_>,
    ) {
        let truth = self.truth(place);
        if helped && truth < REACHES && chance() < rates.coach * self.pace {
            self.truth[place] = Some(truth.next());
        }
        for meeting in since.saturating_add(1)..=now {
            self.checkpoint_goes_on(place, meeting, rates, chance);
        }
    }
}
