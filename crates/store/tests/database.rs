//! The store by itself, on a real PostgreSQL: what is kept once, what is refused, what nobody can change.
#![allow(missing_docs)]

mod support;

use std::collections::BTreeMap;

use bright_row_core::craft::id::CheckpointId;
use bright_row_core::progress::observation::{Observation, Observed};
use bright_row_core::{AssetId, ChildId};
use bright_row_store::accounts::Made;
use bright_row_store::children;
use bright_row_store::classes::{self, settings};
use bright_row_store::instruments::assets::{self, Asset};
use bright_row_store::instruments::loans;
use bright_row_store::locks::{Hold, hold};
use bright_row_store::observations::{Outcome, Refusal, renewing, standings};
use bright_row_store::{ConnectionTrait, StoreError, TransactionTrait};
use uuid::Uuid;

use support::school::{checklist, now, school};

#[tokio::test]
async fn an_observation_sent_twice_is_one_and_its_id_is_taken_for_any_other() {
    let school = school().await;
    let [ada, ben] = school.children;
    let first = school.look(ada, "hold.size", 3, 7);
    assert_eq!(school.add(std::slice::from_ref(&first)).await, [Outcome::Stored]);
    let other = Observation { child: ben, ..first.clone() };
    let good = school.look(ben, "hold.size", 2, 0);
    assert_eq!(school.add(&[first, good]).await, [Outcome::Known, Outcome::Stored]);
    assert_eq!(school.add(&[other]).await, [Outcome::Refused(Refusal::IdTaken)]);
    let kept = standings::kept_of_class(&school.db, school.class.key).await.expect("standings");
    let levels = |child| kept[&child].values().map(|kept| kept.standing.level.number()).collect::<Vec<_>>();
    assert_eq!((levels(ada), levels(ben)), (vec![3], vec![2]));
    let rebuilt = renewing::rebuild(&school.db, &school.class, &checklist()).await.expect("a rebuild");
    assert_eq!(kept, rebuilt);
}

#[tokio::test]
async fn an_undo_takes_back_its_own_childs_observation_only_and_no_undo() {
    let school = school().await;
    let [ada, ben] = school.children;
    let first = school.look(ada, "hold.size", 3, 7);
    let retracts = Observed::Retracts(first.id);
    let undo = Observation { seen: retracts.clone(), ..school.look(ada, "hold.size", 0, 0) };
    let of_another = Observation { seen: retracts, ..school.look(ben, "hold.size", 0, 0) };
    let of_undo = Observation { seen: Observed::Retracts(undo.id), ..school.look(ada, "hold.size", 0, 0) };
    school.add(&[first]).await;
    let outcomes = school.add(&[of_another, undo]).await;
    assert_eq!(outcomes, [Outcome::Refused(Refusal::RetractsOther), Outcome::Stored]);
    assert_eq!(school.add(&[of_undo]).await, [Outcome::Refused(Refusal::RetractsUndo)]);
    let kept = standings::kept_of_class(&school.db, school.class.key).await.expect("standings");
    assert!(kept.get(&ada).is_none_or(BTreeMap::is_empty), "nothing stands any more: {kept:?}");
}

#[tokio::test]
async fn nobody_changes_or_takes_away_an_observation() {
    let school = school().await;
    school.add(&[school.look(school.children[0], "hold.size", 3, 7)]).await;
    for statement in ["update observation set level = 4", "delete from observation", "truncate observation cascade"] {
        let refused = school.db.execute_unprepared(statement).await.expect_err(statement).to_string();
        assert!(refused.contains("append-only"), "{statement}: {refused}");
    }
}

#[tokio::test]
async fn a_child_of_another_class_takes_no_observation_and_the_rest_of_the_batch_is_stored() {
    let (school, elsewhere) = (school().await, school_of_nobody());
    let stranger = school.look(elsewhere, "hold.size", 3, 0);
    let good = school.look(school.children[0], "hold.size", 3, 0);
    assert_eq!(school.add(&[stranger, good]).await, [Outcome::Refused(Refusal::NotInClass), Outcome::Stored]);
}

/// A child that is in no class.
fn school_of_nobody() -> ChildId {
    Uuid::now_v7().into()
}

#[tokio::test]
async fn whoever_gets_an_instrument_takes_it_from_whoever_had_it_and_the_loan_of_before_stays_known() {
    let school = school().await;
    let [ada, ben] = school.children;
    let (one, two) = (school.instrument("V-01").await, school.instrument("V-02").await);
    let program = school.class.key.program;
    let lend = async |pairs: &[(ChildId, Option<AssetId>)]| {
        let tx = school.db.begin().await.expect("a transaction");
        let changed = loans::lend(&tx, program, pairs, now()).await.expect("lent");
        tx.commit().await.expect("kept");
        changed
    };
    assert_eq!(lend(&[(ada, Some(one)), (ben, Some(two))]).await.len(), 2);
    lend(&[(ada, Some(two)), (ben, Some(one))]).await;
    assert_eq!((school.has(ada).await, school.has(ben).await), (Some(two), Some(one)), "a swap in one go");
    lend(&[(ben, None)]).await;
    assert_eq!((school.has(ada).await, school.has(ben).await), (Some(two), None));
    let history = loans::history(&school.db, program, one).await.expect("a history");
    assert_eq!(history.iter().map(|loan| loan.child).collect::<Vec<_>>(), [ben, ada], "newest first");
}

#[tokio::test]
async fn a_tag_is_on_one_instrument_only() {
    let school = school().await;
    school.instrument("V-01").await;
    let known = assets::all(&school.db, school.class.key.program).await.expect("the inventory");
    let twin = Asset { id: Uuid::now_v7().into(), ..known[0].clone() };
    let made = Made { by: school.director, at: now() };
    let refused = assets::keep(&school.db, school.class.key.program, &[twin], made).await;
    assert!(matches!(refused, Err(StoreError::Conflict)), "{refused:?}");
}

#[tokio::test]
async fn two_who_change_the_checklist_wait_for_each_other_and_both_changes_stay() {
    let school = school().await;
    let switch_off = async |id: &str| {
        let tx = school.db.begin().await.expect("a transaction");
        hold(&tx, school.class.key.program, Hold::Alone).await.expect("held");
        let mut edits = classes::one(&tx, school.class.key).await.expect("the class").edits;
        edits.off.insert(CheckpointId::new(id));
        settings::write_edits(&tx, school.class.key, &edits).await.expect("written");
        tx.commit().await.expect("kept");
    };
    tokio::join!(switch_off("hold.free"), switch_off("bow.pencil"), switch_off("frame.space"));
    let kept = classes::one(&school.db, school.class.key).await.expect("the class").edits;
    assert_eq!(kept.off.len(), 3, "{kept:?}");
}

#[tokio::test]
async fn a_removed_child_is_in_no_table_any_more() {
    let school = school().await;
    let [ada, ben] = school.children;
    school.add(&[school.look(ada, "hold.size", 3, 7), school.look(ben, "hold.size", 3, 7)]).await;
    let tx = school.db.begin().await.expect("a transaction");
    children::removal::remove(&tx, school.class.key, ada).await.expect("removed");
    tx.commit().await.expect("kept");
    let left = children::of_class(&school.db, school.class.key).await.expect("the class");
    assert_eq!(left.iter().map(|child| child.id).collect::<Vec<_>>(), [ben]);
    let kept = standings::kept_of_class(&school.db, school.class.key).await.expect("standings");
    assert_eq!(kept.keys().copied().collect::<Vec<_>>(), [ben]);
}
