//! Scenario files: a map, a roster, units and a script, in TOML.
//!
//! The types to know: [`Scenario`] (loaded from text), [`Play`] (a scenario under way) and
//! [`Diagnostics`] (all that is wrong with one, each at its line and column). Loading is all or
//! nothing, and reads files only through the caller.
//!
//! ```
//! use yarrick::scenario::Scenario;
//!
//! let scenario = Scenario::parse(r#"
//!     [scenario]
//!     title = "A walk on the flats"
//!
//!     [ground]
//!     rows = ["........", "..~~....", "........"]
//!     legend = { "." = { name = "sand" }, "~" = { name = "creek", passable = false } }
//!
//!     [[side]]
//!     name = "keepers"
//!
//!     [[kind]]
//!     name = "raker"
//!     radius = 0.4
//!     speed = 1.5
//!
//!     [[unit]]
//!     name = "Orla"
//!     kind = "raker"
//!     side = "keepers"
//!     at = [0.5, 1.5]
//!
//!     [[script]]
//!     time = 0.5
//!     side = "keepers"
//!     order = "move"
//!     units = ["Orla"]
//!     point = [6.5, 1.5]
//! "#)?;
//! let mut play = scenario.play(None)?;
//! play.run_until(10.0, |_, _| {});
//! assert_eq!(play.world().units().next().unwrap().position().x, 6.5);
//!
//! let wrong = Scenario::parse("[scenario]\ntitel = 'A walk'").unwrap_err();
//! assert!(wrong.to_string().contains("did you mean \"title\"?"));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

mod clicks;
mod entry;
mod error;
mod errors;
mod flocks;
mod ground;
mod measure;
mod named;
mod orders;
mod pattern;
mod places;
mod plain;
mod play;
mod roster;
mod script;
mod sides;
mod source;
mod table;
mod tally;
mod units;
mod value;
mod ways;
mod write;

pub use entry::{GroundChange, GroupDeed, Recipients, ScriptAct, ScriptLine, Scripted};
pub use error::{Diagnostic, MAX_ERRORS, Span};
pub use errors::Diagnostics;
pub use flocks::{FlockPlan, ZoneChange, ZonePlan};
pub use measure::{
    FlockMeasured, FlockPart, Measure, Measured, OrderMeasured, Overlap, STILL_M_S, TallyLine,
    TallyMeasured, ZoneMeasured,
};
pub use pattern::Pattern;
pub use plain::{MAX_PAIRS, USUAL_LEGEND, read_pairs};
pub use play::{Play, PlayEvent, SelectedBy};
pub use script::MAX_SECONDS;
pub use source::{MAX_FILE_BYTES, MAX_FILES, Read, Source};
pub use units::Placed;
pub use write::{ScriptWriter, kind_entry};

use crate::ground::Ground;
use crate::route::Waypoints;
use crate::world::{
    ContextRule, ContextRules, DEFAULT_PLAN_BUDGET, DEFAULT_TICKS_PER_SECOND, MAX_TICKS_PER_SECOND,
    WorldSetup,
};
use flocks::Flocks;
use named::Named;
use places::Drawn;
use table::{Context, Table};
use toml::Spanned;
use toml::de::DeTable;
use units::Cast;
use ways::{Fixtures, Gaits};

/// The most entries that a script has.
pub const MAX_SCRIPT: usize = 1 << 15;

/// A scenario: what a world begins with, and what the players do.
#[derive(Clone, Debug)]
pub struct Scenario {
    /// What it is called.
    pub title: String,
    /// How long it lasts unless asked otherwise, in seconds.
    pub duration_s: f64,
    /// What the world begins with.
    pub setup: WorldSetup,
    /// The places that are drawn on the map, and the legs between them, if any are: units know nothing of
    /// them.
    pub waypoints: Option<Waypoints>,
    /// The lines at which units are counted, if any are drawn: units know nothing of them.
    pub tallies: Vec<TallyLine>,
    /// The units at the start.
    pub units: Vec<Placed>,
    /// The flocks at the start.
    pub flocks: Vec<FlockPlan>,
    /// What keeps, draws and scares them at the start.
    pub zones: Vec<ZonePlan>,
    /// What the players do, in order of time.
    pub script: Vec<Scripted>,
    /// What is allowed in its files, but hardly what was meant: a key that an order has no use for, say.
    pub warnings: Diagnostics,
}

impl Scenario {
    /// Reads a scenario that is a single text.
    ///
    /// # Errors
    /// [`Diagnostics`] with all that is wrong with it.
    pub fn parse(text: &str) -> Result<Scenario, Diagnostics> {
        Scenario::load("scenario.toml", &|name| {
            if name == "scenario.toml" {
                Ok(text.to_owned())
            } else {
                Err("a scenario of a single text cannot include files".to_owned())
            }
        })
    }

    /// Reads a scenario from the file called `main` and those that it includes.
    ///
    /// # Errors
    /// [`Diagnostics`] with all that is wrong with them. Files that cannot be read are among
    /// these.
    pub fn load(main: &str, read: Read<'_>) -> Result<Scenario, Diagnostics> {
        let (sources, order, errors) = source::gather(main, read);
        let documents: Vec<_> = sources
            .iter()
            .map(|source| DeTable::parse_recoverable(&source.text))
            .collect();
        let context = Context::new(&sources, errors);
        for (file, (_, errors)) in documents.iter().enumerate() {
            for error in errors {
                let bytes = error.span().unwrap_or(0..0);
                let mut message = error.message().trim_end().replace('\n', "; ");
                let piece = sources[file].text.get(bytes.clone()).unwrap_or_default();
                if (1..=40).contains(&piece.len()) && !piece.contains('\n') {
                    message = format!("{message}, at {piece:?}");
                }
                context.note(Diagnostic::new(Span { file, bytes }, message));
            }
        }
        // A file that is no TOML would only raise follow-on errors.
        let scenario = if context.has_errors() {
            None
        } else {
            let tables = order
                .iter()
                .map(|&file| top(&context, file, &documents[file].0))
                .collect();
            read_all(&context, tables)
        };
        let (errors, warnings) = context.finish();
        match scenario {
            Some(scenario) if errors.is_empty() => Ok(Scenario {
                warnings: Diagnostics::new(warnings, sources),
                ..scenario
            }),
            _ => Err(Diagnostics::new(errors, sources)),
        }
    }
}

fn top<'a>(context: &'a Context<'a>, file: usize, document: &'a Spanned<DeTable<'a>>) -> Table<'a> {
    let span = Span { file, bytes: 0..0 };
    Table::new(context, span, "a scenario file", document.get_ref())
}

/// What `[scenario]` says.
struct Head {
    title: String,
    seed: u64,
    duration_s: f64,
    ticks_per_second: u32,
    plan_budget: u32,
}

/// Reads all files, part by part: what a part refers to is read before it.
fn read_all(context: &Context<'_>, files: Vec<Table<'_>>) -> Option<Scenario> {
    for file in &files {
        let include = file.field("include");
        if include.is_given() {
            include.names();
        }
    }
    let head = only_one(context, &files, "scenario", "the [scenario] table").and_then(read_head);
    let ground = only_one(context, &files, "ground", "the [ground] table").and_then(ground::read);
    let gaits = read_gaits(&files, ground.as_ref());
    let ground = ground.map(|ground| gaits.put_on(ground));
    let ground = read_fixtures(&files, ground, &gaits);
    let waypoints = read_places(context, &files, ground.as_ref());
    let tallies = read_tallies(&files, ground.as_ref());
    let rules = read_rules(&files, &gaits);
    // Parts that the whole scenario must have are missed in the main file, which comes last.
    let main = files.last().map_or(0, |file| file.span().file);
    let sides = sides::finish(&rules.sides, context, main);
    let kinds = roster::finish_kinds(&rules.kinds, context, ground.as_ref(), main);
    let cast = read_cast(context, &files, ground.as_ref(), &sides, &kinds);
    let flocks = read_flocks(&files, &cast);
    let end_s = head.as_ref().map(|head| head.duration_s);
    let script = read_script(context, &files, ground.as_ref(), (&cast, &flocks), end_s);
    for file in files {
        file.finish();
    }
    let units = cast.placed;
    let head = head?;
    let setup = WorldSetup {
        sides: sides.all,
        kinds: kinds
            .all
            .into_iter()
            .map(roster::Known::sound)
            .collect::<Option<_>>()?,
        seed: head.seed,
        ticks_per_second: head.ticks_per_second,
        plan_budget: head.plan_budget,
        context_rules: ContextRules::default().after(rules.clicks),
        ground: ground?,
    };
    Some(Scenario {
        title: head.title,
        duration_s: head.duration_s,
        setup,
        waypoints,
        tallies,
        units,
        flocks: flocks.plans.all.into_iter().collect::<Option<_>>()?,
        zones: flocks.zones.all.into_iter().collect::<Option<_>>()?,
        script,
        warnings: Diagnostics::default(),
    })
}

/// What the files say of sides, kinds and clicks, before the parts are fitted together.
struct Rules {
    sides: Named<sides::Draft>,
    kinds: Named<roster::Draft>,
    clicks: Vec<ContextRule>,
}

fn read_rules(files: &[Table<'_>], gaits: &Gaits) -> Rules {
    let mut rules = Rules {
        sides: Named::new("side"),
        kinds: Named::new("kind"),
        clicks: Vec::new(),
    };
    for file in files {
        each(file, "side", "a side", |table| {
            sides::read(&mut rules.sides, table);
        });
        each(file, "click", "a click rule", |table| {
            rules.clicks.extend(clicks::read(table));
        });
        each(file, "kind", "a kind", |table| {
            roster::read_kind(&mut rules.kinds, table, gaits);
        });
    }
    rules
}

fn read_gaits(files: &[Table<'_>], ground: Option<&Ground>) -> Gaits {
    let mut gaits = Gaits::new();
    for file in files {
        each(file, "gait", "a gait", |table| gaits.read(table, ground));
    }
    gaits
}

/// The ground with its doors and links.
fn read_fixtures(files: &[Table<'_>], ground: Option<Ground>, gaits: &Gaits) -> Option<Ground> {
    let mut fixtures = Fixtures::new();
    for file in files {
        each(file, "door", "a door", |table| {
            fixtures.read_door(table, ground.as_ref());
        });
        each(file, "link", "a link", |table| {
            fixtures.read_link(table, ground.as_ref(), gaits);
        });
    }
    Some(fixtures.put_on(ground?))
}

fn read_places(
    context: &Context<'_>,
    files: &[Table<'_>],
    ground: Option<&Ground>,
) -> Option<Waypoints> {
    let mut drawn = Drawn::new();
    for file in files {
        each(file, "place", "a place", |table| {
            drawn.read_place(table, ground);
        });
    }
    for file in files {
        each(file, "leg", "a leg", |table| drawn.read_leg(table));
    }
    drawn.finish(context)
}

fn read_tallies(files: &[Table<'_>], ground: Option<&Ground>) -> Vec<TallyLine> {
    let mut tallies = Vec::new();
    for file in files {
        each(file, "tally", "a tally", |table| {
            tallies.extend(tally::read(table, ground));
        });
    }
    tallies
}

fn read_cast<'a>(
    context: &'a Context<'a>,
    files: &[Table<'_>],
    ground: Option<&'a Ground>,
    sides: &'a Named<crate::world::Side>,
    kinds: &'a Named<roster::Known>,
) -> Cast<'a> {
    let mut cast = Cast {
        context,
        sides,
        kinds,
        ground,
        placed: Vec::new(),
        groups: Named::new("unit or block"),
    };
    for file in files {
        let tables = |key, what| {
            if file.field(key).is_given() {
                file.tables(key, what)
            } else {
                Vec::new()
            }
        };
        let units = tables("unit", "a unit").into_iter();
        let units = units.map(|table| (table, false));
        let blocks = tables("block", "a block").into_iter();
        let mut all: Vec<_> = units.chain(blocks.map(|table| (table, true))).collect();
        // Units are numbered in the order in which they stand in the file, by themselves or in blocks.
        all.sort_by_key(|(table, _)| table.span().bytes.start);
        for (table, is_block) in all {
            if is_block {
                cast.read_block(table);
            } else {
                cast.read_unit(table);
            }
        }
    }
    cast
}

fn read_flocks(files: &[Table<'_>], cast: &Cast<'_>) -> Flocks {
    let mut flocks = Flocks::new();
    for file in files {
        each(file, "flock", "a flock", |table| flocks.read_flock(table));
    }
    for file in files {
        each(file, "zone", "a zone", |table| {
            flocks.read_zone(table, &cast.groups);
        });
    }
    flocks
}

fn read_script(
    context: &Context<'_>,
    files: &[Table<'_>],
    ground: Option<&Ground>,
    (cast, flocks): (&Cast<'_>, &Flocks),
    end_s: Option<f64>,
) -> Vec<Scripted> {
    let mut script = Vec::new();
    let stage = script::Stage {
        cast,
        flocks,
        ground,
        end_s,
        late: Default::default(),
    };
    for file in files {
        each(file, "script", "a script entry", |table| {
            script.extend(stage.read(table));
        });
    }
    stage.warn_of_late(context);
    let main = files.last().map_or(0, |file| file.span().file);
    check_script_length(context, main, script.len());
    script.sort_by(|a: &Scripted, b| a.time_s.total_cmp(&b.time_s));
    script
}

fn read_head(table: Table<'_>) -> Option<Head> {
    let title = table.field("title").needed().name();
    let whole = |key, range, default| table.field(key).or(default, |field| field.whole(range));
    let seed = whole("seed", 0..=i64::MAX as u64, 0);
    let most = u64::from(MAX_TICKS_PER_SECOND);
    let rate = whole(
        "ticks_per_second",
        1..=most,
        DEFAULT_TICKS_PER_SECOND.into(),
    );
    let duration_s = table
        .field("duration")
        .or(60.0, |field| field.number(0.0..=MAX_SECONDS, "seconds"));
    let plan_budget = whole(
        "plan_budget",
        1..=u64::from(u32::MAX),
        DEFAULT_PLAN_BUDGET.into(),
    );
    table.finish();
    Some(Head {
        title: title?.to_owned(),
        seed: seed?,
        duration_s: duration_s?,
        ticks_per_second: rate? as u32,
        plan_budget: plan_budget? as u32,
    })
}

fn each<'a>(file: &Table<'a>, key: &'static str, what: &'static str, read: impl FnMut(Table<'a>)) {
    if file.field(key).is_given() {
        file.tables(key, what).into_iter().for_each(read);
    }
}

/// The table that exactly one of the files has.
fn only_one<'a>(
    context: &Context<'_>,
    files: &[Table<'a>],
    key: &'static str,
    what: &'static str,
) -> Option<Table<'a>> {
    let mut first: Option<Table<'a>> = None;
    let mut seen = false;
    for file in files {
        if !file.field(key).is_given() {
            continue;
        }
        seen = true;
        let Some(table) = file.table(key, what) else {
            continue;
        };
        match &first {
            Some(known) => {
                let message = format!("there is a [{key}] already");
                let error = Diagnostic::new(table.span().clone(), message);
                context.note(error.with_other(known.span().clone(), "first defined"));
            }
            None => first = Some(table),
        }
    }
    if !seen && let Some(main) = files.last() {
        let message = format!("a scenario needs a [{key}]");
        context.note(Diagnostic::new(main.span().clone(), message));
    }
    first
}

fn check_script_length(context: &Context<'_>, main: usize, count: usize) {
    if count > MAX_SCRIPT {
        let message = format!("the script has {count} entries; at most {MAX_SCRIPT} are allowed");
        let span = Span {
            file: main,
            bytes: 0..0,
        };
        context.note(Diagnostic::new(span, message));
    }
}
