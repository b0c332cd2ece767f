//! What follows from observations, computed anew: what stands is kept beside them, and always follows from all of them.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;
use std::time::{Duration, Instant};

use bright_row_core::craft::checklist::{Checklist, Stage};
use bright_row_core::craft::id::{CheckpointId, StageId, Target};
use bright_row_core::craft::loader::Content;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::progress::standing::{StandingSoFar, standings_so_far};
use bright_row_core::{ChildId, ClassId, ProgramId};
use sea_orm::ConnectionTrait;
use uuid::Uuid;

use crate::children::membership;
use crate::classes::{self, Class};
use crate::error::StoreError;
use crate::observations::attribution::{TAPE, attributed, current_holders};
use crate::observations::standings::{Newest, StandingsSoFar, keep_and_touch, replace};

/// Says how classes read the checklist.
pub trait Checklists: Sync {
    /// The checklist as a class reads it.
    fn of_class(&self, class: &Class) -> Arc<Checklist>;

    /// A class as it was read before, if it was. Of use only where nothing has been set since in its program.
    fn read_before(&self, _class: ClassId) -> Option<Arc<Class>> {
        None
    }

    /// Hears how long the rules took to say how some children stand.
    fn took(&self, _time: Duration) {}
}

impl Checklists for Content {
    fn of_class(&self, class: &Class) -> Arc<Checklist> {
        Arc::new(self.checklist(&class.choices, &class.edits))
    }
}

/// Recomputes the standings of everybody of a class, those who left among them, without touching what is stored.
pub async fn rebuild(
    db: &impl ConnectionTrait,
    class: &Class,
    checklist: &Checklist,
) -> Result<StandingsSoFar, StoreError> {
    let children = membership::ids_of_class(db, class.key).await?;
    let standings = attributed(db, class.key.program, &children, None)
        .await?
        .into_iter()
        .map(|(child, observations)| (child, from_all(checklist, &observations, class)))
        .filter(|(_, standings)| !standings.is_empty());
    Ok(standings.collect())
}

/// Recomputes everything that stands for these children of a program, each by the settings of its class: after an instrument
/// changed hands, a child came from another class, or a class looks at things otherwise. Answers the classes they are in. To be
/// called in a transaction that has the program alone.
pub async fn renew(
    db: &impl ConnectionTrait,
    program: ProgramId,
    children: &BTreeSet<ChildId>,
    checklists: &impl Checklists,
) -> Result<BTreeSet<ClassId>, StoreError> {
    let classes = membership::classes_of(db, program, children).await?;
    let mut found = attributed(db, program, &classes.keys().copied().collect(), None).await?;
    let mut fresh = StandingsSoFar::new();
    for class in classes::of_program(db, program, Some(classes.values().copied().collect())).await? {
        let checklist = checklists.of_class(&class);
        let begun = Instant::now();
        for (child, _) in classes.iter().filter(|(_, of)| **of == class.key.class) {
            let observations = found.remove(child).unwrap_or_default();
            fresh.insert(*child, from_all(&checklist, &observations, &class));
        }
        checklists.took(begun.elapsed());
    }
    replace(db, program, &fresh, None).await?;
    Ok(classes.into_values().collect())
}

async fn in_program(
    db: &impl ConnectionTrait,
    program: ProgramId,
    classes: BTreeSet<ClassId>,
) -> Result<Vec<Arc<Class>>, StoreError> {
    Ok(classes::of_program(db, program, Some(classes)).await?.into_iter().map(Arc::new).collect())
}

/// What is set for the children that observations concern, while it cannot change.
pub(super) struct AsSet {
    /// In which class each is.
    pub classes: BTreeMap<ChildId, ClassId>,
    /// See [`Class::settled`].
    pub settled: Option<Uuid>,
    /// Those of the classes that have been read.
    pub read: Vec<Arc<Class>>,
}

impl AsSet {
    /// What is set if these children are in these classes and nothing was set since those were read; `None` where one of them is not
    /// there. What is presumed has to be asked for.
    pub(super) async fn presumed(
        db: &impl ConnectionTrait,
        program: ProgramId,
        classes: BTreeMap<ChildId, ClassId>,
        checklists: &impl Checklists,
    ) -> Result<Option<Self>, StoreError> {
        let wanted: BTreeSet<ClassId> = classes.values().copied().collect();
        let mut read: Vec<Arc<Class>> = wanted.iter().filter_map(|class| checklists.read_before(*class)).collect();
        read.retain(|class| class.key.program == program);
        if read.len() < wanted.len() || read.iter().any(|class| class.settled != read[0].settled) {
            read = in_program(db, program, wanted.clone()).await?;
        }
        let settled = read.first().map(|class| class.settled);
        Ok((read.len() == wanted.len()).then_some(Self { classes, settled, read }))
    }

    /// Reads the classes of these children, but for those that were read as they are now.
    async fn read(
        &mut self,
        db: &impl ConnectionTrait,
        program: ProgramId,
        children: &BTreeSet<ChildId>,
        checklists: &impl Checklists,
    ) -> Result<(), StoreError> {
        let mut missing: BTreeSet<ClassId> =
            children.iter().filter_map(|child| self.classes.get(child)).copied().collect();
        missing.retain(|class| !self.read.iter().any(|read| read.key.class == *class));
        let as_now = |class: &Arc<Class>| class.key.program == program && Some(class.settled) == self.settled;
        let kept: Vec<Arc<Class>> =
            missing.iter().filter_map(|class| checklists.read_before(*class).filter(as_now)).collect();
        missing.retain(|class| !kept.iter().any(|kept| kept.key.class == *class));
        self.read.extend(kept);
        if !missing.is_empty() {
            self.read.extend(in_program(db, program, missing).await?);
        }
        Ok(())
    }

    /// Those of some children who are in a class.
    pub(super) fn in_class(&self, class: ClassId, children: &BTreeSet<ChildId>) -> BTreeSet<ChildId> {
        children.iter().filter(|child| self.classes.get(child) == Some(&class)).copied().collect()
    }

    /// Of each child what these observations are news of.
    pub(super) async fn newest<'a>(
        &mut self,
        db: &impl ConnectionTrait,
        program: ProgramId,
        checklists: &impl Checklists,
        observations: impl Iterator<Item = &'a Observation>,
    ) -> Result<BTreeMap<ChildId, Newest>, StoreError> {
        let observations: Vec<&Observation> = observations.collect();
        let children = observations.iter().map(|observation| observation.child).collect();
        self.read(db, program, &children, checklists).await?;
        let of_class = |class: &Arc<Class>| {
            newest(&checklists.of_class(class), &self.in_class(class.key.class, &children), &observations)
        };
        Ok(self.read.iter().flat_map(of_class).collect())
    }
}

/// Recomputes the standings of the stages that observations which were added speak of, for everybody for whom they stand; answers the
/// classes of those. Those of whom it is known how they stood `before` go on from there, since all of these observations are newer than
/// all others; the others need their history.
pub(super) async fn bring_up_to_date(
    db: &impl ConnectionTrait,
    program: ProgramId,
    set: &mut AsSet,
    checklists: &impl Checklists,
    added: &[&Observation],
    before: StandingsSoFar,
) -> Result<BTreeSet<ClassId>, StoreError> {
    let mut children: BTreeSet<ChildId> = added.iter().map(|observation| observation.child).collect();
    if added.iter().any(|observation| observation.target.id().starts_with(TAPE)) {
        children.extend(current_holders(db, program, added).await?);
    }
    children.retain(|child| set.classes.contains_key(child));
    if children.is_empty() {
        return Ok(BTreeSet::new());
    }
    set.read(db, program, &children, checklists).await?;
    let mut fresh = StandingsSoFar::new();
    for class in &set.read {
        let of_class = set.in_class(class.key.class, &children);
        let (going_on, others): (BTreeSet<_>, BTreeSet<_>) =
            of_class.into_iter().partition(|child| before.contains_key(child));
        fresh.extend(carry_on(class, checklists, &before, &going_on, added));
        renew_stages(db, class, checklists, &others, added).await?;
    }
    keep_and_touch(db, program, &fresh, &children).await?;
    Ok(children.iter().map(|child| set.classes[child]).collect())
}

/// Recomputes from their history how children of a class stand at the stages that these observations speak of.
async fn renew_stages(
    db: &impl ConnectionTrait,
    class: &Class,
    checklists: &impl Checklists,
    children: &BTreeSet<ChildId>,
    added: &[&Observation],
) -> Result<(), StoreError> {
    let checklist = &checklists.of_class(class);
    let stages: BTreeMap<&StageId, &Stage> = added
        .iter()
        .filter_map(|observation| stage_of(checklist, &observation.target))
        .map(|stage| (&stage.id, stage))
        .collect();
    let checkpoints: BTreeSet<CheckpointId> = stages
        .keys()
        .flat_map(|stage| checklist.checkpoints_of(stage))
        .map(|checkpoint| checkpoint.id.clone())
        .collect();
    if checkpoints.is_empty() || children.is_empty() {
        return Ok(());
    }
    let targets = stages.keys().flat_map(|stage| targets_of(checklist, stage)).collect();
    let mut found = attributed(db, class.key.program, children, Some(targets)).await?;
    let mut fresh = StandingsSoFar::new();
    let begun = Instant::now();
    for child in children {
        let observations = found.remove(child).unwrap_or_default();
        fresh.insert(*child, from_all(checklist, &observations, class));
    }
    checklists.took(begun.elapsed());
    replace(db, class.key.program, &fresh, Some(&checkpoints)).await
}

fn stage_of<'a>(checklist: &'a Checklist, target: &Target) -> Option<&'a Stage> {
    match target {
        Target::Checkpoint(id) => checklist.stage(checklist.checkpoint(id.as_str())?.stage.as_str()),
        Target::Stage(id) => checklist.stage(id.as_str()),
    }
}

/// A stage and its checkpoints.
fn targets_of(checklist: &Checklist, stage: &StageId) -> Vec<String> {
    let checkpoints = checklist.checkpoints_of(stage).map(|checkpoint| checkpoint.id.as_str().to_owned());
    checkpoints.chain([stage.as_str().to_owned()]).collect()
}

/// How children of a class stand who go on from how they stood before; only what is otherwise now.
pub(super) fn carry_on(
    class: &Class,
    checklists: &impl Checklists,
    before: &StandingsSoFar,
    children: &BTreeSet<ChildId>,
    added: &[&Observation],
) -> StandingsSoFar {
    let checklist = &checklists.of_class(class);
    let begun = Instant::now();
    let mut fresh = StandingsSoFar::new();
    for child in children {
        let of_child: Vec<Observation> =
            added.iter().filter(|one| one.child == *child).map(|one| (*one).clone()).collect();
        let mut after = standings_so_far(checklist, &before[child], &of_child, &class.calendar, &class.rhythm);
        after.retain(|checkpoint, so_far| before[child].get(checkpoint) != Some(so_far));
        fresh.insert(*child, after);
    }
    checklists.took(begun.elapsed());
    fresh
}

/// Of each of these children what is new; without those who need their history whatever else is kept of them: an undo needs it, and so do
/// the tapes, whose looks stand for whoever has the instrument.
fn newest(checklist: &Checklist, children: &BTreeSet<ChildId>, touched: &[&Observation]) -> BTreeMap<ChildId, Newest> {
    let mut of_children: BTreeMap<ChildId, Newest> = BTreeMap::new();
    for one in touched.iter().filter(|one| children.contains(&one.child)) {
        let Some(stage) = stage_of(checklist, &one.target) else { continue };
        let first = Newest { first_at: one.observed_at, ..Newest::default() };
        let of_child = of_children.entry(one.child).or_insert(first);
        of_child.ids.push(one.id.uuid());
        of_child.first_at = of_child.first_at.min(one.observed_at);
        // A checkpoint goes on by itself; a look at a stage lets all of its checkpoints go on.
        match &one.target {
            Target::Checkpoint(id) => of_child.targets.extend([id.as_str().to_owned(), stage.id.as_str().to_owned()]),
            Target::Stage(_) => of_child.targets.extend(targets_of(checklist, &stage.id)),
        }
    }
    let undone: BTreeSet<ChildId> =
        touched.iter().filter(|one| matches!(one.seen, Observed::Retracts(_))).map(|one| one.child).collect();
    of_children.retain(|child, of_child| {
        !undone.contains(child) && !of_child.targets.iter().any(|target| target.starts_with(TAPE))
    });
    of_children
}

/// How a child stands by all that was ever seen of it.
fn from_all(
    checklist: &Checklist,
    observations: &[Observation],
    class: &Class,
) -> BTreeMap<CheckpointId, StandingSoFar> {
    standings_so_far(checklist, &BTreeMap::new(), observations, &class.calendar, &class.rhythm)
}
