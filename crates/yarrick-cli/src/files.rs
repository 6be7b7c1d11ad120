//! Reading scenarios and writing results. The core itself touches no files.

use crate::failure::Failure;
use std::fs::{self, File};
use std::io::Read as _;
use std::path::{Path, PathBuf};
use yarrick::Scenario;
use yarrick::scenario::MAX_FILE_BYTES;

/// Loads a scenario from its main file, or from a folder with a `scenario.toml`.
pub(crate) fn load(path: &Path) -> Result<Scenario, Failure> {
    let main = if path.is_dir() {
        path.join("scenario.toml")
    } else {
        path.to_owned()
    };
    // A scenario that is not there at all is a matter of the command line, not of its text.
    if let Err(error) = File::open(&main) {
        return Err(Failure::file(&main, error));
    }
    let folder = main.parent().map_or_else(PathBuf::new, Path::to_owned);
    let Some(name) = main.file_name().and_then(|name| name.to_str()) else {
        return Err(Failure::file(
            &main,
            "the name of a scenario file must be UTF-8",
        ));
    };
    Scenario::load(name, &|name| read(&folder.join(name))).map_err(|mistakes| Failure::Scenario {
        folder: folder.clone(),
        mistakes: Box::new(mistakes),
    })
}

/// Reads a text, and no more of it than the core takes.
fn read(path: &Path) -> Result<String, String> {
    let file = File::open(path).map_err(|error| error.to_string())?;
    let mut bytes = Vec::new();
    file.take(MAX_FILE_BYTES as u64 + 1)
        .read_to_end(&mut bytes)
        .map_err(|error| error.to_string())?;
    if bytes.len() > MAX_FILE_BYTES {
        // The core tells how large a file may be; the cut may lie within a character.
        return Ok(String::from_utf8_lossy(&bytes).into_owned());
    }
    String::from_utf8(bytes).map_err(|error| {
        let at = error.utf8_error().valid_up_to();
        format!("it is not UTF-8 text (byte {at})")
    })
}

/// Writes a file, and the folder that it lies in.
pub(crate) fn write(path: &Path, bytes: impl AsRef<[u8]>) -> Result<(), Failure> {
    if let Some(folder) = path
        .parent()
        .filter(|folder| !folder.as_os_str().is_empty())
    {
        fs::create_dir_all(folder).map_err(|error| Failure::file(folder, error))?;
    }
    fs::write(path, bytes).map_err(|error| Failure::file(path, error))
}
