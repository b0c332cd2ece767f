//! Observations that arrive while others are being written: gathered into one transaction, each request answered by itself.

mod support;

use bright_row_core::ChildId;
use bright_row_core::role::Role;
use bright_row_store::TransactionTrait;
use bright_row_store::locks::{Hold, hold};
use reqwest::{Client, Method, StatusCode};
use serde_json::{Value, json};
use support::look;
use support::people::School;

/// Sends each of these as a request of its own while nothing can be written, and lets them be written once all have come.
async fn sent_at_once(school: &School, client: &Client, observations: &[Value]) -> Vec<(StatusCode, Value)> {
    let held = school.app.db.begin().await.expect("a transaction");
    hold(&held, school.key.program, Hold::Alone).await.expect("alone");
    let path = school.of_class("/observations");
    let sent = observations.iter().map(|observation| {
        let body = json!({ "observations": [observation] });
        let path = &path;
        async move { school.send(client, Method::POST, path, Some(&body)).await }
    });
    let all_came = async {
        // The first waits for the database, the others for the first.
        while school.app.writers.open(school.key.program) < observations.len() {
            tokio::task::yield_now().await;
        }
        held.commit().await.expect("let go");
    };
    let (answers, ()) = tokio::join!(futures::future::join_all(sent), all_came);
    answers
}

async fn children(school: &School, how_many: usize) -> Vec<ChildId> {
    let mut children = Vec::new();
    for number in 0..how_many {
        children.push(school.child(&format!("Child {number}")).await);
    }
    children
}

fn outcome(answer: &(StatusCode, Value)) -> String {
    let result = &answer.1["results"][0];
    format!("{} {}", answer.0.as_u16(), result["outcome"].as_str().unwrap_or_default())
}

#[tokio::test]
async fn what_comes_while_others_are_written_goes_into_the_next_transaction_together() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let children = children(&school, 12).await;
    let looks: Vec<Value> = children.iter().map(|child| look(*child, "hold.size", 3, 0)).collect();
    let answers = sent_at_once(&school, &owner, &looks).await;
    assert!(answers.iter().all(|answer| outcome(answer) == "200 stored"), "{answers:?}");
    assert_eq!(school.rows("observation").await, 12);
    assert_eq!(school.rows("standing").await, 12);
    let transactions = school.texts("select distinct xmin::text as text from observation").await;
    assert!(transactions.len() <= 2, "{transactions:?}: one that was under way, and one for all the others");
}

#[tokio::test]
async fn one_who_is_let_go_while_waiting_is_turned_away_and_the_others_are_not() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let director = school.person("director@one.example", Role::Director).await;
    let other = school.sign_in("director@one.example").await;
    let children = children(&school, 3).await;
    let path = school.of_class("/observations");
    let send = async |client: &Client, child: ChildId| {
        let body = json!({ "observations": [look(child, "hold.size", 3, 0)] });
        school.send(client, Method::POST, &path, Some(&body)).await
    };
    for client in [&owner, &other] {
        assert_eq!(outcome(&send(client, children[0]).await), "200 stored");
    }
    let held = school.app.db.begin().await.expect("a transaction");
    hold(&held, school.key.program, Hold::Alone).await.expect("alone");
    let let_go = async {
        while school.app.writers.open(school.key.program) < 3 {
            tokio::task::yield_now().await;
        }
        school.run(&format!("delete from class_member where account_id = '{director}'")).await;
        // Nothing was set: only who is let in is another question.
        held.rollback().await.expect("let go");
    };
    let sent = tokio::join!(send(&owner, children[0]), send(&other, children[1]), send(&owner, children[2]), let_go);
    assert_eq!((outcome(&sent.0).as_str(), outcome(&sent.2).as_str()), ("200 stored", "200 stored"));
    assert_eq!(sent.1.0, StatusCode::NOT_FOUND);
    assert_eq!(school.rows("observation").await, 4);
}

#[tokio::test]
async fn one_that_cannot_be_stored_fails_by_itself() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let children = children(&school, 8).await;
    school
        .run(
            "create function refuse() returns trigger language plpgsql as $$ begin
               if new.target = 'bow.pluck' then raise exception 'refused by a test'; end if; return new; end $$;
             create trigger refuse before insert on observation for each row execute function refuse()",
        )
        .await;
    let target = |number: usize| if number == 5 { "bow.pluck" } else { "hold.size" };
    let looks: Vec<Value> =
        children.iter().enumerate().map(|(number, child)| look(*child, target(number), 2, 0)).collect();
    let answers = sent_at_once(&school, &owner, &looks).await;
    for (number, answer) in answers.iter().enumerate() {
        let expected = if number == 5 { "500 " } else { "200 stored" };
        assert_eq!(outcome(answer), expected, "{number}: {answer:?}");
    }
    assert_eq!(school.rows("observation").await, 7);
    // Whoever comes next is written as ever.
    let after = sent_at_once(&school, &owner, &[look(children[0], "hold.rest", 3, 0)]).await;
    assert_eq!(outcome(&after[0]), "200 stored");
}

#[tokio::test]
async fn the_same_sent_twice_at_once_is_stored_once_and_another_of_its_id_is_refused() {
    let school = School::new().await;
    let owner = school.sign_in("owner@one.example").await;
    let children = children(&school, 3).await;
    let first = look(children[0], "hold.size", 3, 0);
    let mut other = look(children[1], "hold.size", 3, 0);
    other["id"] = first["id"].clone();
    let looks = [look(children[2], "hold.size", 1, 0), first.clone(), first, other];
    let answers = sent_at_once(&school, &owner, &looks).await;
    let mut outcomes: Vec<String> = answers[1..].iter().map(outcome).collect();
    // Which of them comes first is left to chance: it is the one that is stored.
    outcomes.sort();
    let stored = outcomes.iter().filter(|outcome| *outcome == "200 stored").count();
    let refused = outcomes.iter().filter(|outcome| *outcome == "200 refused").count();
    assert_eq!((stored, outcomes.len()), (1, 3), "{answers:?}");
    assert!(refused == 1 || refused == 2, "{answers:?}");
    assert_eq!(school.rows("observation").await, 2);
}
