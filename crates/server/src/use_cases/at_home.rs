//! What the children of a class do at home this week.

use std::collections::BTreeMap;

use bright_row_core::ChildId;
use bright_row_core::craft::drawings::ClassDrawings;
use bright_row_core::craft::drills::Lessons;
use bright_row_core::craft::family_wording::CardLines;
use bright_row_core::craft::home::{BlockKind, Exercise, HomePhrase};
use bright_row_core::craft::id::CheckpointId;
use bright_row_core::craft::instrument::Instrument;
use bright_row_core::lessons::home::{
    AtHome, HomeAgreement, HomeBlock, HomeDay, HomeSettings, HomeWeek, Sitting, again_on,
};
use bright_row_core::setup::names::given_name;
use bright_row_core::setup::observed::size_checkpoint;
use bright_row_documents::family_card::{CardRow, CardThing, FamilyCard};
use bright_row_store::children::agreements;
use chrono::{Datelike, NaiveDate};

use super::snapshot::{ClassSnapshot, Learner};
use crate::error::ApiError;

/// What is looked for in a child instead of the shared look-for, by child and checkpoint.
pub(crate) type OwnLookFors = BTreeMap<(ChildId, CheckpointId), String>;

/// A class as it practises at home.
pub(crate) struct ClassAtHome<'a> {
    pub(crate) snapshot: ClassSnapshot<'a>,
    /// The week's first day: that of the next meeting, when cards are handed out.
    pub(crate) first: NaiveDate,
    settings: HomeSettings,
    /// What is agreed with families.
    agreements: BTreeMap<ChildId, HomeAgreement>,
    lessons: Lessons,
    drawings: ClassDrawings,
}

impl<'a> ClassAtHome<'a> {
    /// # Errors
    /// [`ApiError::Store`].
    pub(crate) async fn read(snapshot: ClassSnapshot<'a>) -> Result<Self, ApiError> {
        let (app, class) = (snapshot.app, snapshot.class);
        let agreements = agreements::of_class(&app.db, class.key).await?;
        let today = class.calendar.day_of(app.now());
        let choices = app.choices(class);
        Ok(Self {
            agreements,
            first: class.calendar.next_from(today).unwrap_or(today),
            settings: class.home_settings.clone(),
            lessons: app.content.lessons(&choices, &class.edits),
            drawings: app.content.drawings(&choices, &class.edits),
            snapshot,
        })
    }

    /// What is agreed with a child's family.
    pub(crate) fn agreement(&self, child: ChildId) -> HomeAgreement {
        self.agreements.get(&child).cloned().unwrap_or_default()
    }

    /// How a child practises: as the class, but for what is agreed.
    pub(crate) fn settings(&self, child: ChildId) -> HomeSettings {
        self.settings.with(&self.agreement(child))
    }

    /// A child's week.
    ///
    /// # Errors
    /// [`ApiError::Internal`] where the class's settings cannot be, which none are that were taken in.
    pub(crate) fn week(&self, learner: &Learner) -> Result<HomeWeek<'a>, ApiError> {
        let content = &self.snapshot.app.content;
        let home = AtHome {
            pupil: learner.pupil(&content.causes),
            joined_on: learner.child.joined_on,
            order: self.snapshot.order,
            at_once: content.approach.next_at_once(&self.snapshot.class.choices),
        };
        let settings = self.settings(learner.child.id);
        let week = home.week(self.first, &settings, (&content.home, &self.lessons));
        week.map_err(|fault| ApiError::Internal(fault.to_string()))
    }

    /// A child's card; `own` is what is looked for in some children instead, `origin` where this server is reached: without it the
    /// card has no code.
    ///
    /// # Errors
    /// As [`Self::week`].
    pub(crate) fn card(
        &self,
        learner: &Learner,
        own: &OwnLookFors,
        origin: Option<&str>,
    ) -> Result<FamilyCard, ApiError> {
        let week = self.week(learner)?;
        let content = &self.snapshot.app.content;
        let (instrument, agreement) = (learner.child.playing.now, self.agreement(learner.child.id));
        let worded = &self.snapshot.class.edits.phrases;
        let lines = CardLines {
            home: &content.home,
            own: agreement.language.as_ref().and_then(|language| worded.get(language)),
        };
        let sitting = match self.settings.sitting {
            Sitting::One => HomePhrase::OneSitting,
            Sitting::Moments => HomePhrase::Moments,
        };
        let minutes = format!("{} minutes a day.", self.settings(learner.child.id).minutes);
        let size = learner.standings.get(&size_checkpoint());
        let size_again = size.and_then(|size| again_on(size, &self.snapshot.class.calendar, self.first));
        let size_again = size_again.map(|day| format!("{} {}.", lines.line(HomePhrase::SizeAgain), short(day)));
        let (first, last) = (week.days.first(), week.days.last());
        let days = first.zip(last).map_or_else(String::new, |(first, last)| {
            if first == last { short(first.date) } else { format!("{} to {}", short(first.date), short(last.date)) }
        });
        Ok(FamilyCard {
            heading: lines.line(HomePhrase::Heading),
            name: given_name(&learner.child.name).to_owned(),
            what: format!("{}, {days}", instrument.name()),
            show: lines.line(HomePhrase::Show),
            see: lines.line(HomePhrase::See),
            things: self.things(&week, learner, own),
            week: lines.line(HomePhrase::Week),
            days: week.days.iter().map(|day| weekday(day.date).to_owned()).collect(),
            rows: self.rows(&week, learner),
            foot: [
                lines.paragraphs(&minutes, &[sitting]),
                lines.paragraphs("", &[HomePhrase::FirstSounds, HomePhrase::Sore]),
                lines.paragraphs("", &[HomePhrase::storing(instrument)]),
                size_again.into_iter().collect(),
                lines.paragraphs("", &[HomePhrase::Back]),
            ]
            .concat(),
            large: agreement.large,
            code: origin.map_or_else(String::new, |origin| format!("{origin}/card/{}", learner.child.id)),
        })
    }

    /// What a child shows this week, as it is drawn.
    ///
    /// # Errors
    /// As [`Self::week`].
    pub(crate) fn shown(&self, learner: &Learner, own: &OwnLookFors) -> Result<Vec<CardThing>, ApiError> {
        Ok(self.things(&self.week(learner)?, learner, own))
    }

    /// What a child shows. What counts for this child only has no drawing, and its own words.
    fn things(&self, week: &HomeWeek<'_>, learner: &Learner, own: &OwnLookFors) -> Vec<CardThing> {
        let (snapshot, overrides) = (&self.snapshot, &learner.context.overrides);
        let (content, class, child) = (&snapshot.app.content, snapshot.class, &learner.child);
        let instrument = child.playing.now;
        let own_way = (!overrides.is_empty()).then(|| {
            let mut choices = snapshot.app.choices(class);
            choices.extend(overrides.clone());
            content.drawings(&choices, &class.edits)
        });
        let drawings = own_way.as_ref().unwrap_or(&self.drawings);
        let thing = |id: &CheckpointId| {
            let checkpoint = learner.checklist.checkpoint(id.as_str())?;
            let words = checkpoint.wording.get(&instrument)?;
            let own = own.get(&(child.id, id.clone())).cloned();
            let sign = content.home.signs.get(id).and_then(|on| on.get(&instrument));
            let sign = sign.cloned().unwrap_or_else(|| words.proof.clone());
            let drawn = drawings.checkpoints.get(id).and_then(|on| on.get(&instrument));
            Some(CardThing {
                name: checkpoint.name.clone(),
                cue: words.cue.clone(),
                figure: drawn.filter(|_| own.is_none()).map(|drawn| drawn.look.draw(instrument)),
                sign: own.unwrap_or(sign),
            })
        };
        week.shown.iter().filter_map(thing).collect()
    }

    /// What is done on a day, a line a block: `2 min: Tap each finger on one string. 20 times each.`
    pub(crate) fn lines(&self, week: &HomeWeek<'_>, day: &HomeDay, instrument: Instrument) -> Vec<String> {
        let line = |block: &HomeBlock| {
            let exercise = week.exercises.get(&block.kind)?;
            Some(format!("{} min: {}", block.minutes, self.doing(exercise, instrument)))
        };
        day.blocks.iter().filter_map(line).collect()
    }

    /// What a child does in an exercise, with how often.
    fn doing(&self, exercise: &Exercise, instrument: Instrument) -> String {
        let text = exercise.text.get(&instrument).cloned().unwrap_or_default();
        let counted = exercise.block == BlockKind::FingerStrength;
        if counted { format!("{text} {} times each.", self.settings.taps) } else { text }
    }

    fn rows(&self, week: &HomeWeek<'_>, learner: &Learner) -> Vec<CardRow> {
        let minutes = |kind: BlockKind| {
            let days = week.days.iter();
            days.map(|day| day.blocks.iter().find(|block| block.kind == kind).map(|block| block.minutes)).collect()
        };
        let row = |(kind, exercise): (&BlockKind, &&Exercise)| CardRow {
            text: self.doing(exercise, learner.child.playing.now),
            minutes: minutes(*kind),
        };
        week.exercises.iter().map(row).filter(|row| row.minutes.iter().any(Option::is_some)).collect()
    }
}

/// A day as a card has it: `30 Nov`.
fn short(day: NaiveDate) -> String {
    day.format("%-d %b").to_string()
}

/// A weekday in two letters.
fn weekday(day: NaiveDate) -> &'static str {
    match day.weekday() {
        chrono::Weekday::Mon => "Mo",
        chrono::Weekday::Tue => "Tu",
        chrono::Weekday::Wed => "We",
        chrono::Weekday::Thu => "Th",
        chrono::Weekday::Fri => "Fr",
        chrono::Weekday::Sat => "Sa",
        chrono::Weekday::Sun => "Su",
    }
}
