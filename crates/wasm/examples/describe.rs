//! Prints what the calls take and answer: `cargo run -p bright-row-wasm --example describe > web/src/core/door.json`.

fn main() {
    println!("{}", bright_row_wasm::description());
}
