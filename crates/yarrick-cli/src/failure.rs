//! What can go wrong with a command, how it is reported, and with which exit code.

use crate::report;
use std::io;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use yarrick::scenario::Diagnostics;

/// Why a command could not be carried out.
pub(crate) enum Failure {
    /// The scenario has errors. The folder is that of its main file.
    Scenario {
        folder: PathBuf,
        errors: Box<Diagnostics>,
    },
    /// A file could not be read or written, or a picture not be made.
    File { path: PathBuf, why: String },
    /// The command line asks for something that the scenario does not have.
    Usage(String),
    /// The reader has closed our output (a broken pipe). Not an error.
    OutputClosed,
}

impl Failure {
    pub(crate) fn file(path: &Path, why: impl ToString) -> Failure {
        Failure::File {
            path: path.to_owned(),
            why: why.to_string(),
        }
    }

    /// A failure to write to the standard output.
    pub(crate) fn output(error: &io::Error) -> Failure {
        match error.kind() {
            io::ErrorKind::BrokenPipe => Failure::OutputClosed,
            _ => Failure::file(Path::new("standard output"), error),
        }
    }

    /// Prints the failure on the standard error.
    pub(crate) fn report(&self) -> ExitCode {
        match self {
            Failure::Scenario { folder, errors } => {
                anstream::eprintln!("{}", report::errors(folder, errors));
                ExitCode::from(1)
            }
            Failure::File { path, why } => {
                anstream::eprintln!("yarrick: {}: {why}", path.display());
                ExitCode::from(3)
            }
            Failure::Usage(why) => {
                anstream::eprintln!("yarrick: {why}");
                ExitCode::from(2)
            }
            Failure::OutputClosed => ExitCode::SUCCESS,
        }
    }
}
