//! Reading scenarios and writing results. The core itself touches no files.

use crate::arguments::MapArg;
use crate::failure::Failure;
use crate::report;
use std::fs::{self, File};
use std::io::{BufReader, Read as _};
use std::path::{Path, PathBuf};
use yarrick::ground::MAX_CELLS_A_SIDE;
use yarrick::scenario::{MAX_FILE_BYTES, Pattern, read_pairs};
use yarrick::{Scenario, Vec2};

/// Loads a scenario from its main file, or from a folder with a `scenario.toml`. Prints what it has to be warned of.
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
    match Scenario::load(name, &|name| read(&folder.join(name))) {
        Ok(scenario) => {
            if scenario.warnings.count() > 0 {
                anstream::eprint!("{}", report::warnings(&folder, &scenario.warnings));
            }
            Ok(scenario)
        }
        Err(errors) => Err(Failure::Scenario {
            folder,
            errors: Box::new(errors),
        }),
    }
}

/// Loads the map that was asked for, as a scenario that may hold nothing else.
pub(crate) fn load_map(asked: &MapArg) -> Result<Scenario, Failure> {
    let Some(path) = &asked.path else {
        let pattern = asked.pattern.unwrap_or(Pattern::Open);
        let (name, side, seed) = (word(pattern), asked.side, asked.seed);
        let title = format!("{name}, seed {seed}");
        return Ok(Scenario::of_ground(&title, pattern.ground(side, seed)));
    };
    load_any(path, asked.legend.as_deref())
}

/// What a file is, by its ending.
#[derive(PartialEq)]
pub(crate) enum FileFormat {
    Scenario,
    PlainMap,
    Picture,
}

impl FileFormat {
    pub(crate) fn of(path: &Path) -> FileFormat {
        let ends_in = |ending: &str| path.extension().is_some_and(|known| known == ending);
        if ends_in("txt") {
            FileFormat::PlainMap
        } else if ends_in("png") {
            FileFormat::Picture
        } else {
            FileFormat::Scenario
        }
    }
}

/// Loads a scenario, or a map that is all there is of one.
pub(crate) fn load_any(path: &Path, legend: Option<&Path>) -> Result<Scenario, Failure> {
    match FileFormat::of(path) {
        FileFormat::Scenario if legend.is_some() => Err(Failure::Usage(
            "--legend is for maps in plain text and pictures; the map of a scenario has its own"
                .to_owned(),
        )),
        FileFormat::Scenario => load(path),
        FileFormat::Picture => load_picture(path, legend),
        FileFormat::PlainMap => load_plain(path, legend),
    }
}

/// Loads a map that is rows of characters.
fn load_plain(path: &Path, legend: Option<&Path>) -> Result<Scenario, Failure> {
    let text = read_text(path)?;
    let legend = match legend {
        Some(path) => Some((name_of(path), read_text(path)?)),
        None => None,
    };
    let legend = legend
        .as_ref()
        .map(|(name, text)| (name.as_str(), text.as_str()));
    Scenario::of_rows(&name_of(path), &text, legend).map_err(|errors| Failure::Scenario {
        folder: path.parent().map_or_else(PathBuf::new, Path::to_owned),
        errors: Box::new(errors),
    })
}

/// Loads a map that is a picture, a pixel a cell.
fn load_picture(path: &Path, legend: Option<&Path>) -> Result<Scenario, Failure> {
    let Some(legend) = legend else {
        let why = "a map that is a picture needs --legend: what its colours mean";
        return Err(Failure::Usage(why.to_owned()));
    };
    let legend_text = read_text(legend)?;
    let (width, pixels) = read_pixels(path).map_err(|why| Failure::file(path, why))?;
    let legend = (name_of(legend), legend_text);
    Scenario::of_pixels(&name_of(path), width, &pixels, (&legend.0, &legend.1)).map_err(|errors| {
        Failure::Scenario {
            folder: path.parent().map_or_else(PathBuf::new, Path::to_owned),
            errors: Box::new(errors),
        }
    })
}

/// The width of a PNG picture and the colours of its pixels, row by row from the top.
fn read_pixels(path: &Path) -> Result<(u32, Vec<[u8; 3]>), String> {
    let file = File::open(path).map_err(|error| error.to_string())?;
    let mut decoder = png::Decoder::new(BufReader::new(file));
    // Palettes become colours, and all channels have eight bits.
    decoder.set_transformations(png::Transformations::normalize_to_color8());
    let mut reader = decoder.read_info().map_err(|error| error.to_string())?;
    let (width, height) = (reader.info().width, reader.info().height);
    if width.max(height) > MAX_CELLS_A_SIDE {
        return Err(format!(
            "it is {width} by {height} pixels; at most {MAX_CELLS_A_SIDE} a side are allowed"
        ));
    }
    let size = reader.output_buffer_size().ok_or("it is too large")?;
    let mut bytes = vec![0; size];
    let frame = reader
        .next_frame(&mut bytes)
        .map_err(|error| error.to_string())?;
    let samples = frame.color_type.samples();
    let colour = |pixel: &[u8]| match pixel {
        [red, green, blue, ..] => [*red, *green, *blue],
        [grey, ..] => [*grey; 3],
        [] => [0; 3],
    };
    let pixels = bytes[..frame.buffer_size()].chunks(samples).map(colour);
    Ok((width, pixels.collect()))
}

/// Loads a list of starts and goals.
pub(crate) fn load_pairs(path: &Path) -> Result<Vec<(Vec2, Vec2)>, Failure> {
    let text = read_text(path)?;
    read_pairs(&name_of(path), &text).map_err(|errors| Failure::Scenario {
        folder: path.parent().map_or_else(PathBuf::new, Path::to_owned),
        errors: Box::new(errors),
    })
}

fn word(pattern: Pattern) -> &'static str {
    let known = Pattern::WORDS.iter().find(|(_, known)| *known == pattern);
    known.map_or("", |(word, _)| word)
}

fn name_of(path: &Path) -> String {
    let name = path.file_name().unwrap_or(path.as_os_str());
    name.to_string_lossy().into_owned()
}

fn read_text(path: &Path) -> Result<String, Failure> {
    read(path).map_err(|error| Failure::file(path, error))
}

/// Reads a text, and no more of it than the core takes.
fn read(path: &Path) -> Result<String, String> {
    let file = File::open(path).map_err(|error| error.to_string())?;
    let mut bytes = Vec::new();
    file.take(MAX_FILE_BYTES as u64 + 1)
        .read_to_end(&mut bytes)
        .map_err(|error| error.to_string())?;
    if bytes.len() > MAX_FILE_BYTES {
        // The core reports how large a file may be; the cut may lie within a character.
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
