//! `bright-row`: see `bright-row --help`.

use clap::Parser;

fn main() -> std::process::ExitCode {
    bright_row::cli::run(bright_row::cli::Cli::parse())
}
