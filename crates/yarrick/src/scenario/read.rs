//! Reading all parts of a scenario, in an order in which what a part refers to is read before it.

use super::assault::{Areas, Plan};
use super::error::{Diagnostic, Span};
use super::errors::Diagnostics;
use super::flocks::Flocks;
use super::named::Named;
use super::places::Drawn;
use super::resources::Resources;
use super::script;
use super::table::{Context, Table};
use super::units::{Cast, check_entries};
use super::ways::{Fixtures, Gaits};
use super::{
    MAX_SCRIPT, MAX_SECONDS, Scenario, Scripted, TallyLine, clicks, depots, endings, ground,
    resources, roster, sides, tally,
};
use crate::drill::Program;
use crate::ground::Ground;
use crate::route::Waypoints;
use crate::world::{
    AssaultSetup, ContextRule, ContextRules, DEFAULT_PLAN_BUDGET, DEFAULT_TICKS_PER_SECOND, Ending,
    Kind, MAX_ENDINGS, MAX_TICKS_PER_SECOND, WorldSetup,
};

/// What `[scenario]` says.
struct Head {
    title: String,
    seed: u64,
    duration_s: f64,
    ticks_per_second: u32,
    plan_budget: u32,
}

/// Reads all files, part by part: what a part refers to is read before it.
pub(super) fn read_all(
    context: &Context<'_>,
    files: Vec<Table<'_>>,
    program: Option<Program>,
) -> Option<Scenario> {
    check_includes(&files);
    let head = only_one(context, &files, "scenario", "the [scenario] table").and_then(read_head);
    let (ground, gaits) = read_land(context, &files);
    let waypoints = read_places(context, &files, ground.as_ref());
    let tallies = read_tallies(&files, ground.as_ref());
    let resources = read_resources(&files);
    let words = roster::Words {
        gaits: &gaits,
        resources: &resources,
        program: program.as_ref(),
    };
    let rules = read_rules(&files, words);
    // Parts that the whole scenario must have are missed in the main file, which comes last.
    let main = files.last().map_or(0, |file| file.span().file);
    let sides = sides::finish(&rules.sides, context, main);
    let given = (ground.as_ref(), program.as_ref());
    let kinds = roster::finish_kinds(&rules.kinds, context, given, main);
    let cast = read_cast(context, &files, ground.as_ref(), &sides, &kinds);
    let flocks = read_flocks(&files, &cast);
    let end_s = head.as_ref().map(|head| head.duration_s);
    let rate = rate(head.as_ref());
    let (assault, endings) = read_contest(context, &files, (&cast, &resources), rate);
    let script = read_script(context, &files, ground.as_ref(), (&cast, &flocks), end_s);
    files.into_iter().for_each(Table::finish);
    let (units, spans, head) = (cast.placed, cast.spans, head?);
    let setup = WorldSetup {
        sides: sides.all,
        kinds: sound_kinds(kinds)?,
        seed: head.seed,
        ticks_per_second: head.ticks_per_second,
        plan_budget: head.plan_budget,
        context_rules: ContextRules::default().after(rules.clicks),
        ground: ground?,
        resources: resources.names.into_iter().map(|(name, _)| name).collect(),
        stores: sides::stores(rules.sides),
        assault: assault?,
        program: program?,
        own_words: Vec::new(),
    };
    check_entries(context, &setup, &units, &spans);
    Some(Scenario {
        title: head.title,
        duration_s: head.duration_s,
        setup,
        waypoints,
        tallies,
        units,
        flocks: flocks.plans.all.into_iter().collect::<Option<_>>()?,
        endings: endings?,
        zones: flocks.zones.all.into_iter().collect::<Option<_>>()?,
        script,
        warnings: Diagnostics::default(),
    })
}

fn rate(head: Option<&Head>) -> u32 {
    head.map_or(DEFAULT_TICKS_PER_SECOND, |head| head.ticks_per_second)
}

/// The ground with all that stands on it, and the gaits.
fn read_land(context: &Context<'_>, files: &[Table<'_>]) -> (Option<Ground>, Gaits) {
    let ground = only_one(context, files, "ground", "the [ground] table").and_then(ground::read);
    let gaits = read_gaits(files, ground.as_ref());
    let ground = ground.map(|ground| gaits.put_on(ground));
    (read_fixtures(files, ground, &gaits), gaits)
}

/// The assault, and how the game ends. `None` where one is unsound, which is noted.
fn read_contest(
    context: &Context<'_>,
    files: &[Table<'_>],
    (cast, resources): (&Cast<'_>, &Resources),
    rate: u32,
) -> (Option<Option<AssaultSetup>>, Option<Vec<Ending>>) {
    let areas = read_areas(files, cast.ground);
    let plan = Plan {
        sides: cast.sides,
        kinds: cast.kinds,
        resources,
        areas: &areas,
        ground: cast.ground,
        ticks_per_second: rate,
        clearances: Default::default(),
    };
    let assault = read_assault(context, files, &plan);
    let has_assault = assault.as_ref().is_none_or(Option::is_some);
    (assault, read_endings(files, cast, (rate, has_assault)))
}

/// The names of included files were followed before; here they are only checked.
fn check_includes(files: &[Table<'_>]) {
    for file in files {
        let include = file.field("include");
        if include.is_given() {
            include.names();
        }
        let drills = file.field("drills");
        if drills.is_given() {
            drills.names();
        }
    }
}

fn read_resources(files: &[Table<'_>]) -> Resources {
    let mut resources = Named::new("resource");
    for file in files {
        each(file, "resource", "a resource", |table| {
            resources::read(&mut resources, table);
        });
    }
    resources
}

/// The kinds, if nothing is wrong with any.
fn sound_kinds(kinds: Named<roster::Known>) -> Option<Vec<Kind>> {
    kinds.all.into_iter().map(roster::Known::sound).collect()
}

/// What the files say of sides, kinds and clicks, before the parts are fitted together.
struct Rules {
    sides: Named<sides::Draft>,
    kinds: Named<roster::Draft>,
    clicks: Vec<ContextRule>,
}

fn read_rules(files: &[Table<'_>], words: roster::Words<'_>) -> Rules {
    let mut rules = Rules {
        sides: Named::new("side"),
        kinds: Named::new("kind"),
        clicks: Vec::new(),
    };
    for file in files {
        each(file, "side", "a side", |table| {
            sides::read(&mut rules.sides, table, words.resources);
        });
        each(file, "click", "a click rule", |table| {
            rules.clicks.extend(clicks::read(table));
        });
        each(file, "kind", "a kind", |table| {
            roster::read_kind(&mut rules.kinds, table, words);
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
        spans: Vec::new(),
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
    depots::check(&cast);
    cast
}

fn read_areas(files: &[Table<'_>], ground: Option<&Ground>) -> Areas {
    let mut areas = Areas::new();
    for file in files {
        each(file, "entry", "an entry", |table| {
            areas.read_entry(table, ground);
        });
        each(file, "goal", "a goal", |table| {
            areas.read_goal(table, ground);
        });
    }
    areas
}

/// The assault, if there is one. `None` where it is unsound, which is noted.
fn read_assault(
    context: &Context<'_>,
    files: &[Table<'_>],
    plan: &Plan<'_>,
) -> Option<Option<AssaultSetup>> {
    let is_given = files.iter().any(|file| file.field("assault").is_given());
    let head = is_given.then(|| {
        let table = only_one(context, files, "assault", "the [assault] table")?;
        plan.read_head(table)
    });
    let mut waves = Vec::new();
    for file in files {
        each(file, "wave", "a wave", |table| {
            waves.push(plan.read_wave(table));
        });
    }
    let file = files.last().map_or(0, |file| file.span().file);
    plan.finish(head, waves, context, Span { file, bytes: 0..0 })
}

/// The endings. `None` where one is unsound, which is noted.
fn read_endings(
    files: &[Table<'_>],
    cast: &Cast<'_>,
    (rate, has_assault): (u32, bool),
) -> Option<Vec<Ending>> {
    let mut endings = Vec::new();
    for file in files {
        each(file, "ending", "an ending", |table| {
            let is_one_more = endings.len() == MAX_ENDINGS;
            let span = table.span().clone();
            let context = table.context();
            endings.push(endings::read(table, cast, (rate, has_assault)));
            if is_one_more {
                let message = format!("at most {MAX_ENDINGS} endings are allowed");
                context.note(Diagnostic::new(span, message));
            }
        });
    }
    endings.into_iter().collect()
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
