//! No bytes end the core in the page: every question has an answer, also one that makes no sense.

use bright_row_wasm::{NAMES, ask};
use proptest::prelude::*;
use serde_json::{Value, json};

fn answer(question: &[u8]) -> Value {
    serde_json::from_slice(&ask(question)).expect("an answer is JSON")
}

/// Any JSON, with field names that the calls know among its names.
fn anything() -> impl Strategy<Value = Value> {
    let name = prop_oneof![
        Just("class"),
        Just("asked"),
        Just("events"),
        Just("basis"),
        Just("rules"),
        Just("plan"),
        Just("change"),
        Just("pending"),
        Just("measures"),
        Just("facts"),
        Just("entry"),
        Just("checklists"),
        Just("nobody knows"),
    ];
    let leaf = prop_oneof![
        Just(Value::Null),
        any::<bool>().prop_map(Value::from),
        any::<i64>().prop_map(Value::from),
        any::<f64>().prop_map(Value::from),
        "\\PC{0,12}".prop_map(Value::from),
        Just(json!("2026-11-24T10:00:00Z")),
        Just(json!("00000000-0000-7000-8000-000000000001")),
    ];
    leaf.prop_recursive(4, 40, 6, move |inner| {
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..5).prop_map(Value::from),
            prop::collection::vec((name.clone(), inner), 0..6).prop_map(|fields| Value::Object(
                fields.into_iter().map(|(name, value)| (name.to_owned(), value)).collect()
            )),
        ]
    })
}

proptest! {
    #[test]
    fn any_bytes_have_an_answer(bytes in prop::collection::vec(any::<u8>(), 0..200)) {
        prop_assert_eq!(&answer(&bytes)[0], &json!(false));
    }

    #[test]
    fn any_json_to_any_call_has_an_answer(call in 0..NAMES.len(), question in anything()) {
        let answer = answer(json!([NAMES[call], question]).to_string().as_bytes());
        prop_assert!(answer[0].is_boolean(), "{}", answer);
    }
}

#[test]
fn what_is_nested_too_deep_or_is_no_call_is_said() {
    let deep = format!("[\"planRound\", {}1{}]", "[".repeat(10_000), "]".repeat(10_000));
    assert_eq!(answer(deep.as_bytes())[0], json!(false));
    let unknown = answer(br#"["noSuchCall", {}]"#);
    assert_eq!(unknown, json!([false, "there is no call noSuchCall"]));
    let missing = answer(br#"["planRound", {}]"#);
    assert!(missing[1].as_str().is_some_and(|words| words.contains("missing field")), "{missing}");
}
