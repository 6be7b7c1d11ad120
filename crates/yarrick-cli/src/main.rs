//! The `yarrick` command: what was typed, what it means, and doing it.

mod account;
mod arguments;
mod commands;
mod failure;
mod figures;
mod files;
mod progress;
mod report;

use arguments::{Arguments, Verb};
use clap::Parser as _;
use std::process::ExitCode;

fn main() -> ExitCode {
    let arguments = Arguments::parse();
    let done = match &arguments.verb {
        Verb::Demo(demo) => commands::demo::run(demo),
        Verb::Run(run) => commands::run::run(run),
        Verb::Check(check) => commands::check::run(check),
        Verb::Draw(draw) => commands::draw::run(draw),
        Verb::Film(film) => commands::film::run(film),
        Verb::Route(route) => commands::route::run(route),
    };
    match done {
        Ok(()) => ExitCode::SUCCESS,
        Err(failure) => failure.report(),
    }
}
