//! Standings projected forward through looks that nobody has made yet: what a term ahead would bring.

use chrono::{DateTime, Utc};

use crate::craft::level::Level;
use crate::progress::rhythm::{MAX_INTERVAL, Rhythm};
use crate::progress::standing::Standing;
use crate::progress::unfolding::{CurrentStanding, Look, StandingFold};

/// A standing projected forward through looks that nobody has made yet.
///
/// Whether a stage look just before was the first in a row is not known of a standing: the next one counts as the first.
#[derive(Clone, Debug)]
pub struct StandingProjection {
    /// How it stands after the looks so far.
    pub standing: Standing,
    lasting_run: u32,
    held_at: Option<u32>,
    tried_at: Option<u32>,
}

impl StandingProjection {
    /// The projection that begins with this standing.
    #[must_use]
    pub fn from(standing: Standing, rhythm: &Rhythm) -> Self {
        let lasting = standing.level == Level::Lasting && !standing.slipped;
        let run = (1..=MAX_INTERVAL).find(|run| {
            let interval = rhythm.interval(Level::Lasting, *run);
            interval >= standing.interval || interval >= Some(rhythm.longest)
        });
        Self { lasting_run: run.filter(|_| lasting).unwrap_or_default(), held_at: None, tried_at: None, standing }
    }

    /// The same by another rhythm, where it follows from the class's and no slip.
    #[must_use]
    pub fn by(mut self, was: &Rhythm, rhythm: &Rhythm) -> Self {
        let usual = was.interval(self.standing.level, self.lasting_run);
        if self.standing.interval == usual {
            self.standing.interval = rhythm.interval(self.standing.level, self.lasting_run);
        }
        self
    }

    /// Observed for the first time, at a visit in meeting `meeting`.
    #[must_use]
    pub fn begun(at: DateTime<Utc>, level: Level, meeting: u32, rhythm: &Rhythm) -> Self {
        let mut fold = StandingFold::default();
        fold.look(Look::visit(at), level, None, || meeting, rhythm);
        let standing = fold.current.expect("a look makes a standing").standing();
        Self { standing, lasting_run: fold.lasting_run, held_at: None, tried_at: fold.tried_at }
    }

    /// Observed at a visit in meeting `meeting`, no slip.
    pub fn look(&mut self, at: DateTime<Utc>, level: Level, meeting: u32, rhythm: &Rhythm) {
        self.apply(|fold| fold.look(Look::visit(at), level, None, || meeting, rhythm));
    }

    /// Its stage was found as it was, at a visit in meeting `meeting`.
    pub fn holds(&mut self, at: DateTime<Utc>, meeting: u32, rhythm: &Rhythm) {
        self.apply(|fold| fold.holds(Look::visit(at), meeting, rhythm));
    }

    /// Lasting in a row.
    #[must_use]
    pub fn lasting_run(&self) -> u32 {
        self.lasting_run
    }

    fn apply(&mut self, by: impl FnOnce(&mut StandingFold<'_>)) {
        // A fine look leaves no slip behind.
        let mut fold = StandingFold {
            current: Some(CurrentStanding::of(&self.standing)),
            lasting_run: self.lasting_run,
            held_at: self.held_at,
            tried_at: self.tried_at,
        };
        by(&mut fold);
        let (lasting_run, held_at, tried_at) = (fold.lasting_run, fold.held_at, fold.tried_at);
        let standing = fold.current.map(CurrentStanding::standing);
        self.standing = standing.expect("looks never take a standing away");
        (self.lasting_run, self.held_at, self.tried_at) = (lasting_run, held_at, tried_at);
    }
}
