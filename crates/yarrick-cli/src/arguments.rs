//! What can be typed. The one place where options are described.

use clap::{Args, Parser, Subcommand, ValueEnum};
use std::path::PathBuf;
use yarrick::Vec2;
use yarrick::scenario::{MAX_PAIRS, MAX_SECONDS, Pattern};
use yarrick::world::{self, MAX_COORDINATE_M};
use yarrick_draw::Size;

/// Unit AI for strategy and defense games, without the game: run a scenario, see what came of
/// every order, and draw it.
#[derive(Parser)]
#[command(
    name = "yarrick",
    version,
    after_help = EXIT_CODES,
    subcommand_required = true,
    arg_required_else_help = true
)]
pub(crate) struct Arguments {
    #[command(subcommand)]
    pub(crate) verb: Verb,
}

const EXIT_CODES: &str = "\
Exit codes:
  0  done
  1  the scenario has errors; each is printed with its place
  2  the command line was not understood, or names what there is not
  3  a file could not be read or written

Start with 'yarrick demo': it writes a scenario that you can change and run again.";

#[derive(Subcommand)]
pub(crate) enum Verb {
    Demo(Demo),
    Run(Run),
    Check(Check),
    Draw(Draw),
    Film(Film),
    Route(Route),
}

/// Run the bundled demo, and write its scenario, account, pictures and a film to a folder.
///
/// The demo is a small game that plays by itself: a day on a saltmarsh. Rakers gather salt, a yard
/// produces wardens and slingers, a rack, a dyke and towers are built, and the tide comes in four
/// waves. It needs no other file, and is the same every time.
#[derive(Args)]
#[command(after_help = "Example:\n  yarrick demo -o demo && yarrick run demo/scenario --seed 8")]
pub(crate) struct Demo {
    /// The folder to write to; it is made if need be
    #[arg(short, long, value_name = "DIR", default_value = "yarrick-demo")]
    pub(crate) output: PathBuf,
}

/// Run a scenario, and report its orders and their outcomes.
///
/// The account is written for people; with --json it holds everything that happened, for
/// programs. The same scenario and seed give the same account, with the same checksums, on
/// every machine.
#[derive(Args)]
#[command(after_help = "\
Examples:
  yarrick run scenarios/saltmarsh
  yarrick run scenarios/saltmarsh --until 20 --json > run.json
  yarrick run scenarios/crowds/gap.toml --measure")]
pub(crate) struct Run {
    #[command(flatten)]
    pub(crate) scenario: ScenarioArg,
    #[command(flatten)]
    pub(crate) seed: SeedArg,
    /// Stop at this time, in seconds, instead of the scenario's own duration
    #[arg(long, value_name = "SECONDS", value_parser = seconds)]
    pub(crate) until: Option<f64>,
    #[command(flatten)]
    pub(crate) threads: Threads,
    /// Explain what this unit's drills do: each change of state with its reason, and at the end the rules with what they
    /// measured. UNIT is a name in the scenario, or an id such as 7v1; may be given more than once
    #[arg(long, value_name = "UNIT", conflicts_with = "measure")]
    pub(crate) explain: Vec<String>,
    /// Report movement quality instead of the event log: overlaps, hold-ups, crossings of the scenario's tally
    /// lines, duration of orders, cohesion of flocks
    #[arg(long)]
    pub(crate) measure: bool,
    /// Write everything that happened as JSON, or with --measure the figures
    #[arg(long)]
    pub(crate) json: bool,
}

/// The number of threads of a run.
#[derive(Args, Clone, Copy)]
pub(crate) struct Threads {
    /// Number of threads, 1 to 64; the result does not depend on it
    #[arg(long, value_name = "N", default_value = "1", value_parser = clap::value_parser!(u8).range(1..=64))]
    threads: u8,
}

impl Threads {
    pub(crate) fn count(self) -> usize {
        usize::from(self.threads)
    }
}

/// Check the files of a scenario, and report all errors at once.
///
/// Each error is reported with its file, line and column, the allowed values, and the likely fix. The
/// scenario is not run.
#[derive(Args)]
#[command(after_help = "\
Examples:
  yarrick check scenarios/saltmarsh
  yarrick check marsh.txt --legend legend.toml")]
pub(crate) struct Check {
    /// A scenario (its main file, or a folder with a scenario.toml), a plain text map (.txt), or a
    /// picture with a pixel a cell (.png)
    #[arg(value_name = "SCENARIO")]
    pub(crate) path: PathBuf,
    /// What the characters of a plain text map mean, or the colours of a picture
    #[arg(long, value_name = "FILE")]
    pub(crate) legend: Option<PathBuf>,
}

/// Draw a scenario at some time: ground, units, selection, orders and the ways still to walk.
#[derive(Args)]
#[command(after_help = "\
Examples:
  yarrick draw scenarios/saltmarsh --at 12 -o run.png
  yarrick draw scenarios/saltmarsh --at 12.5 -o run.svg --size 1920x1200
  yarrick draw scenarios/flocks/mudhole.toml --at 70 --forces dunlins/40,0v1 -o forces.png")]
pub(crate) struct Draw {
    #[command(flatten)]
    pub(crate) scenario: ScenarioArg,
    #[command(flatten)]
    pub(crate) seed: SeedArg,
    /// The time to draw, in seconds
    #[arg(long, value_name = "SECONDS", default_value = "0", value_parser = seconds)]
    pub(crate) at: f64,
    /// The picture to write; its ending decides the format: .png or .svg
    #[arg(short, long, value_name = "FILE", value_parser = picture)]
    pub(crate) output: PathBuf,
    /// The size of the picture in pixels
    #[arg(long, value_name = "WIDTHxHEIGHT", default_value = "1280x800", value_parser = size)]
    pub(crate) size: Size,
    #[command(flatten)]
    pub(crate) reveal: Reveal,
}

/// What of the motions is drawn.
#[derive(Args)]
pub(crate) struct Reveal {
    /// Draw arrows to where everybody will be in a second, moving as they do now
    #[arg(long)]
    pub(crate) velocities: bool,
    /// Draw what makes some move: units by their ids, and members of flocks as FLOCK/NUMBER
    #[arg(long, value_name = "WHO,…", value_delimiter = ',')]
    pub(crate) forces: Vec<String>,
}

/// Film a scenario from one time to another, as an animated GIF.
///
/// Movement cannot be judged on a still: a film shows what 'yarrick draw' shows, frame after frame, at the speed of
/// the game. The same scenario and seed give the same film, byte for byte.
#[derive(Args)]
#[command(after_help = "\
Examples:
  yarrick film scenarios/crowds/meeting.toml --from 5 --until 25 -o meeting.gif
  yarrick film scenarios/flocks/mudhole.toml --from 55 --until 75 --fps 5 --size 800x500 -o flock.gif")]
pub(crate) struct Film {
    #[command(flatten)]
    pub(crate) scenario: ScenarioArg,
    #[command(flatten)]
    pub(crate) seed: SeedArg,
    #[command(flatten)]
    pub(crate) threads: Threads,
    /// Begin at this time, in seconds
    #[arg(long, value_name = "SECONDS", default_value = "0", value_parser = seconds)]
    pub(crate) from: f64,
    /// End at this time, in seconds, instead of the scenario's own duration
    #[arg(long, value_name = "SECONDS", value_parser = seconds)]
    pub(crate) until: Option<f64>,
    /// Frames a second, 1 to 50: as near to it as whole ticks allow
    #[arg(long, value_name = "N", default_value = "10", value_parser = clap::value_parser!(u32).range(1..=50))]
    pub(crate) fps: u32,
    /// The size of the frames in pixels
    #[arg(long, value_name = "WIDTHxHEIGHT", default_value = "960x600", value_parser = size)]
    pub(crate) size: Size,
    /// Maximum size of the film in megabytes, 1 to 1000; the film ends there
    #[arg(long, value_name = "MB", default_value = "20", value_parser = clap::value_parser!(u32).range(1..=1000))]
    pub(crate) limit: u32,
    #[command(flatten)]
    pub(crate) reveal: Reveal,
    /// The film to write; it must end in .gif
    #[arg(short, long, value_name = "FILE", value_parser = film)]
    pub(crate) output: PathBuf,
}

/// Find the way between points of a map, and print or draw it; or measure many ways.
///
/// The map is that of a scenario, a plain text file (.txt) of rows of characters, a picture (.png), or
/// one made by a rule from a seed. Units are ignored. If a point cannot be reached, the way leads to the
/// nearest point that can, and the reason is printed.
#[derive(Args)]
#[command(after_help = "\
In a plain text map . is sand, , mud, w reed, = causeway, ~ creek and # dyke, unless --legend
says otherwise: a TOML file with lines such as \"o\" = { name = \"bog\", speed = 0.3 }. For a
picture it has lines such as \"#8f6a3c\" = { name = \"bog\", speed = 0.3 }.

A list of pairs has one a line: from x, from y, to x, to y, in metres. What follows a # counts
for nothing.

Examples:
  yarrick route scenarios/saltmarsh --from 6,25 --to 41,16
  yarrick route scenarios/saltmarsh --from 6,25 --to 41,16 --to 10,10 --kind warden
  yarrick route scenarios/saltmarsh --from 6,25 --to 41,16 -o way.png
  yarrick route scenarios/saltmarsh --show field --to 41,16 -o field.png
  yarrick route my-map.txt --from 1,1 --to 30,12 --radius 0.3 --json
  yarrick route --pattern rooms --side 512 --seed 7 --bench
  yarrick route scenarios/saltmarsh --bench pairs.txt --json")]
pub(crate) struct Route {
    #[command(flatten)]
    pub(crate) map: MapArg,
    /// Where the way begins, in metres
    #[arg(long, value_name = "X,Y", value_parser = point, allow_hyphen_values = true)]
    #[arg(required_unless_present_any = ["bench", "show"], requires = "to")]
    pub(crate) from: Option<Vec2>,
    /// Where it is to lead, in metres; given again, where it goes on to from there
    #[arg(long, value_name = "X,Y", value_parser = point, allow_hyphen_values = true)]
    pub(crate) to: Vec<Vec2>,
    #[command(flatten)]
    pub(crate) body: BodyArgs,
    /// Write the answer as JSON
    #[arg(long)]
    pub(crate) json: bool,
    /// Draw it, too; the ending decides the format: .png or .svg
    #[arg(short, long, value_name = "FILE", value_parser = picture, conflicts_with = "bench")]
    pub(crate) output: Option<PathBuf>,
    /// The size of the picture in pixels
    #[arg(long, value_name = "WIDTHxHEIGHT", default_value = "1280x800", value_parser = size)]
    pub(crate) size: Size,
    /// Draw something other than a way over the map, and print its figures
    #[arg(long, value_name = "WHAT", requires = "output", conflicts_with_all = ["bench", "from", "json"])]
    pub(crate) show: Option<View>,
    /// Go by the places and legs that are drawn on the map, from the place nearest to --from to the one nearest
    /// to each --to
    #[arg(long, requires = "from", conflicts_with_all = ["bench", "show", "radius", "gait", "kind"])]
    pub(crate) by_places: bool,
    /// Measure the ways of a list of pairs; without a file, of random pairs
    #[arg(long, value_name = "PAIRS", num_args = 0..=1, conflicts_with_all = ["from", "to"])]
    pub(crate) bench: Option<Option<PathBuf>>,
    /// Number of random pairs
    #[arg(long, value_name = "NUMBER", default_value = "100", requires = "bench")]
    #[arg(value_parser = clap::value_parser!(u32).range(1..=MAX_PAIRS as i64))]
    pub(crate) pairs: u32,
}

/// What can be drawn over a map.
#[derive(Clone, Copy, ValueEnum)]
pub(crate) enum View {
    /// The goal field of the points given with --to: which way to go from everywhere
    Field,
    /// Which parts hang together for the body
    Regions,
    /// How wide a body may be in each cell
    Clearance,
}

/// Where a map comes from.
#[derive(Args)]
pub(crate) struct MapArg {
    /// A scenario (its main file, or a folder with a scenario.toml), a plain text map (.txt), or a
    /// picture with a pixel a cell (.png)
    #[arg(
        value_name = "MAP",
        required_unless_present = "pattern",
        conflicts_with = "pattern"
    )]
    pub(crate) path: Option<PathBuf>,
    /// What the characters of a plain text map mean, or the colours of a picture
    #[arg(long, value_name = "FILE", requires = "path")]
    pub(crate) legend: Option<PathBuf>,
    /// A map made by a rule
    #[arg(long, value_name = "NAME", value_parser = pattern)]
    pub(crate) pattern: Option<Pattern>,
    /// How many cells such a map has on a side
    #[arg(
        long,
        value_name = "CELLS",
        default_value = "256",
        requires = "pattern"
    )]
    #[arg(value_parser = clap::value_parser!(u32).range(1..=i64::from(Pattern::MOST_SIDE)))]
    pub(crate) side: u32,
    /// Seed for all random numbers, of the map and of the pairs
    #[arg(long, value_name = "NUMBER", default_value = "1")]
    #[arg(value_parser = clap::value_parser!(u64).range(..=MOST_SEED))]
    pub(crate) seed: u64,
}

#[derive(Args)]
pub(crate) struct BodyArgs {
    /// The radius of the body, in metres [default: 0.4]
    #[arg(long, value_name = "METRES", value_parser = radius)]
    pub(crate) radius: Option<f32>,
    /// How it goes over the ground [default: foot]
    #[arg(long, value_name = "NAME")]
    pub(crate) gait: Option<String>,
    /// A body like those of this kind
    #[arg(long, value_name = "NAME", conflicts_with_all = ["radius", "gait"])]
    pub(crate) kind: Option<String>,
}

#[derive(Args)]
pub(crate) struct ScenarioArg {
    /// The scenario: its main file, or a folder with a scenario.toml
    #[arg(value_name = "SCENARIO")]
    pub(crate) path: PathBuf,
}

#[derive(Args)]
pub(crate) struct SeedArg {
    /// Seed for all random numbers, instead of the scenario's own
    #[arg(long, value_name = "NUMBER", value_parser = clap::value_parser!(u64).range(..=MOST_SEED))]
    pub(crate) seed: Option<u64>,
}

/// The same limit as in scenario files, whose numbers have a sign.
const MOST_SEED: u64 = i64::MAX as u64;

fn seconds(text: &str) -> Result<f64, String> {
    let seconds: Option<f64> = text.parse().ok();
    seconds
        .filter(|seconds| (0.0..=MAX_SECONDS).contains(seconds))
        .ok_or_else(|| format!("allowed is a number of seconds from 0 to {MAX_SECONDS}"))
}

fn point(text: &str) -> Result<Vec2, String> {
    let number = |text: &str| text.trim().parse::<f32>().ok();
    let within = |number: &f32| number.abs() <= MAX_COORDINATE_M;
    let numbers = text
        .split_once(',')
        .and_then(|(x, y)| number(x).zip(number(y)));
    numbers
        .filter(|(x, y)| within(x) && within(y))
        .map(|(x, y)| Vec2::new(x, y))
        .ok_or_else(|| "write it as two numbers, in metres, such as 6,25.5".to_owned())
}

fn pattern(text: &str) -> Result<Pattern, String> {
    let known = Pattern::WORDS.iter().find(|(word, _)| *word == text);
    known.map(|(_, pattern)| *pattern).ok_or_else(|| {
        let words: Vec<&str> = Pattern::WORDS.iter().map(|(word, _)| *word).collect();
        format!("allowed is {}", words.join(", "))
    })
}

fn radius(text: &str) -> Result<f32, String> {
    let radius: Option<f32> = text.parse().ok();
    let allowed = world::Body::MIN_RADIUS_M..=world::Body::MAX_RADIUS_M;
    radius
        .filter(|radius| allowed.contains(radius))
        .ok_or_else(|| {
            let (low, high) = (allowed.start(), allowed.end());
            format!("allowed is a number of metres from {low} to {high}")
        })
}

fn size(text: &str) -> Result<Size, String> {
    let (width, height) = text.split_once('x').ok_or("write it as 1280x800")?;
    let number = |text: &str| text.parse().map_err(|_| "write it as 1280x800".to_owned());
    let (least, most) = (Size::LEAST, Size::MOST);
    Size::new(number(width)?, number(height)?).ok_or_else(|| {
        let ((a, b), (c, d)) = (least, most);
        format!("allowed is {a}x{b} to {c}x{d}")
    })
}

fn film(text: &str) -> Result<PathBuf, String> {
    let path = PathBuf::from(text);
    match path.extension().and_then(|ending| ending.to_str()) {
        Some("gif") => Ok(path),
        _ => Err("the file must end in .gif".to_owned()),
    }
}

fn picture(text: &str) -> Result<PathBuf, String> {
    let path = PathBuf::from(text);
    let ending = path.extension().and_then(|ending| ending.to_str());
    match ending {
        Some("png" | "svg") => Ok(path),
        _ => Err("the file must end in .png or .svg".to_owned()),
    }
}
