//! The pages' types of the calls are made from the description of this build.

#[test]
fn the_description_beside_the_pages_is_that_of_the_calls() {
    let kept = include_str!("../../../web/src/core/door.json");
    assert!(
        kept.trim_end() == bright_row_wasm::description(),
        "run: cargo run -p bright-row-wasm --example describe > web/src/core/door.json && npm --prefix web run types:write"
    );
}
