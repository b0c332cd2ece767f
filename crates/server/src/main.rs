//! `bright-row`: see `bright-row --help`.

use clap::Parser;
use tikv_jemallocator::Jemalloc;

/// Set for little memory: `.cargo/config.toml`.
#[global_allocator]
static HEAP: Jemalloc = Jemalloc;

fn main() -> std::process::ExitCode {
    bright_row::cli::run(bright_row::cli::Cli::parse())
}
