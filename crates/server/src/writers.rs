//! Where observations are written: those of a program that arrive while a commit is under way go into the next one together.
//!
//! A commit takes a write to the disk, whatever is in it. Each request is answered once its own observations are on disk.

use std::collections::BTreeSet;
use std::sync::Arc;

use bright_row_core::progress::observation::Observation;
use bright_row_core::{ObservationId, ProgramId};
use bright_row_store::classes::{ClassKey, LetIn};
use bright_row_store::live::Topic;
use bright_row_store::observations::renewing::Checklists;
use bright_row_store::observations::{self, Outcome, Part};
use bright_row_store::{DatabaseConnection, StoreError};

use crate::error::ApiError;
use crate::live::Live;
use crate::turns::Turns;

/// The most observations in one transaction, but for a single request that has more.
const MOST_AT_ONCE: usize = 500;

/// Where observations are written, and who hears of it.
#[derive(Clone, Debug)]
pub struct Written<C> {
    /// The pool of connections.
    pub db: DatabaseConnection,
    /// How classes read the checklist.
    pub checklists: C,
    /// Open pages.
    pub live: Live,
}

/// The observations of a request.
#[derive(Debug)]
struct OfRequest {
    class: ClassKey,
    let_in: Option<LetIn>,
    observations: Vec<Observation>,
}

/// What became of each of them; `None` where it was not confirmed that somebody is let in.
type Outcomes = Option<Vec<Outcome>>;

/// Writes observations, those of a program turn by turn.
#[derive(Clone, Debug, Default)]
pub struct WritersDesk(Turns<ProgramId, OfRequest, Result<Outcomes, StoreError>>);

impl WritersDesk {
    /// Adds observations to a class, brings the standings that follow up to date, and tells the pages of every class in which
    /// somebody stands otherwise; answers what became of each, and `None` where it is not confirmed that somebody is still `let_in`.
    ///
    /// # Errors
    /// [`ApiError::Store`]; then none of them is stored. Others that were written with them are not concerned.
    pub async fn add(
        &self,
        to: &Written<impl Checklists + Clone + Send + 'static>,
        class: ClassKey,
        let_in: Option<LetIn>,
        observations: Vec<Observation>,
    ) -> Result<Outcomes, ApiError> {
        let (to, program) = (to.clone(), class.program);
        let write = move |requests: Arc<[OfRequest]>| {
            let to = to.clone();
            async move { to.add_each(program, &requests).await }
        };
        Ok(self.0.ask(program, OfRequest { class, let_in, observations }, fits, write).await??)
    }

    /// How many requests of a program are not answered yet.
    #[must_use]
    pub fn open(&self, program: ProgramId) -> usize {
        self.0.open(program)
    }
}

/// Whether a request goes into a transaction with those before it. The same id in two requests: the second hears what became of the first.
fn fits(before: &[&OfRequest], next: &OfRequest) -> bool {
    let ids: BTreeSet<ObservationId> =
        before.iter().flat_map(|one| &one.observations).map(|observation| observation.id).collect();
    let many: usize = before.iter().map(|one| one.observations.len()).sum();
    many + next.observations.len() <= MOST_AT_ONCE
        && !next.observations.iter().any(|observation| ids.contains(&observation.id))
}

impl<C: Checklists> Written<C> {
    /// Writes them together, and each for itself where one of them may be at fault.
    async fn add_each(&self, program: ProgramId, requests: &[OfRequest]) -> Vec<Result<Outcomes, StoreError>> {
        let parts = requests.iter().map(|OfRequest { class, let_in, observations }| Part {
            class: *class,
            observations,
            let_in: let_in.as_ref(),
        });
        let parts: Vec<Part<'_>> = parts.collect();
        match self.add(program, &parts).await {
            Ok(outcomes) => outcomes.into_iter().map(Ok).collect(),
            Err(error) if parts.len() == 1 || error.is_the_databases() => vec![Err(error); parts.len()],
            Err(_) => {
                let mut each = Vec::new();
                for part in &parts {
                    each.push(self.add(program, std::slice::from_ref(part)).await.map(|mut one| one.remove(0)));
                }
                each
            }
        }
    }

    async fn add(&self, program: ProgramId, parts: &[Part<'_>]) -> Result<Vec<Outcomes>, StoreError> {
        let added = observations::add_parts(&self.db, program, &self.checklists, parts).await?;
        for class in added.changed {
            self.live.changed(class, Topic::Observations);
        }
        Ok(added.outcomes)
    }
}
