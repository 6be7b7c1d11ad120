//! `yarrick route`: the way between points of a map, printed or drawn.

use crate::account::{code, plural};
use crate::arguments::Route as Asked;
use crate::commands::body::{Walker, body};
use crate::commands::draw::write_sheet;
use crate::commands::{bench, trips, views};
use crate::failure::Failure;
use crate::files;
use serde::Serialize;
use std::fmt::Write as _;
use std::io::Write as _;
use yarrick::ground::{Cell, ClearanceMap};
use yarrick::route::{Barrier, NoRoute, Route, Router, Shortfall};
use yarrick::{Scenario, Vec2, World};
use yarrick_draw::{Scene, Traced};

/// What was asked, and what came of it.
struct Answer<'a> {
    scenario: &'a Scenario,
    from: Vec2,
    to: Vec2,
    radius_m: f32,
    found: Result<Route, NoRoute>,
    searched: Vec<Cell>,
}

#[derive(Serialize)]
struct Document<'a> {
    scenario: &'a str,
    from: [f32; 2],
    to: [f32; 2],
    radius_m: f32,
    found: bool,
    #[serde(skip_serializing_if = "Option::is_none")]
    why_not: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    route: Option<RouteEntry>,
    /// The work of the search, in settled cells.
    work_cells: u32,
}

#[derive(Serialize)]
struct RouteEntry {
    length_m: f32,
    cost_m: f32,
    points: Vec<[f32; 2]>,
    /// How far the first point is from the start that was asked for.
    pushed_m: f32,
    #[serde(skip_serializing_if = "Option::is_none")]
    short: Option<ShortEntry>,
}

#[derive(Serialize)]
struct ShortEntry {
    why: String,
    by_m: f32,
    #[serde(skip_serializing_if = "Option::is_none")]
    between: Option<String>,
}

pub(crate) fn run(asked: &Asked) -> Result<(), Failure> {
    let scenario = files::load_map(&asked.map)?;
    let play = scenario
        .play(None)
        .map_err(|error| Failure::Usage(error.to_string()))?;
    let world = play.world();
    if let Some(from) = asked.from.filter(|_| asked.by_places) {
        let text = trips::run(&scenario, world, asked, from)?;
        return write!(anstream::stdout(), "{text}").map_err(|error| Failure::output(&error));
    }
    let body = body(world, &asked.body).map_err(Failure::Usage)?;
    if let Some(view) = asked.show {
        let text = views::run(&scenario, world, asked, (view, body))?;
        return write!(anstream::stdout(), "{text}").map_err(|error| Failure::output(&error));
    }
    let (text, drawn) = match (asked.from, &asked.bench) {
        (Some(from), None) => {
            let answers = answers(&scenario, world, from, &asked.to, body);
            (reported(&answers, asked.json), answers)
        }
        _ => (bench::run(&scenario, world, asked, body)?, Vec::new()),
    };
    write!(anstream::stdout(), "{text}").map_err(|error| Failure::output(&error))?;
    match &asked.output {
        Some(output) => draw(world, &scenario, &drawn, asked.size, output),
        None => Ok(()),
    }
}

/// The ways from point to point, each from where the one before was to lead.
fn answers<'a>(
    scenario: &'a Scenario,
    world: &World,
    from: Vec2,
    to: &[Vec2],
    body: Walker,
) -> Vec<Answer<'a>> {
    let ground = world.ground();
    let clearance = ClearanceMap::for_gait(ground, body.gait, body.radius_m);
    let mut router = Router::default();
    let mut from = from;
    let answer = |&to: &Vec2| {
        let start = core::mem::replace(&mut from, to);
        let found = router.find(ground, &clearance, body.radius_m, start, to);
        Answer {
            scenario,
            from: start,
            to,
            radius_m: body.radius_m,
            searched: router.searched(&clearance).collect(),
            found,
        }
    };
    to.iter().map(answer).collect()
}

fn reported(answers: &[Answer<'_>], json: bool) -> String {
    let each = |answer: &Answer<'_>| {
        if json {
            answer.to_json()
        } else {
            answer.to_text()
        }
    };
    if let [only] = answers {
        return each(only);
    }
    let texts: Vec<String> = answers.iter().map(each).collect();
    if json {
        let documents = texts.iter().map(|text| text.trim_end());
        return format!("[{}]\n", documents.collect::<Vec<_>>().join(",\n"));
    }
    let routes = || {
        answers
            .iter()
            .filter_map(|answer| answer.found.as_ref().ok())
    };
    let length: f32 = routes().map(|route| route.length_m).sum();
    let cost: f32 = routes().map(|route| route.cost_m).sum();
    let total = format!("{length:.2} m; takes as long as {cost:.2} m of plain ground");
    format!("{}\n\nAltogether {total}.\n", texts.join("\n").trim_end())
}

/// Draws all ways as one.
fn draw(
    world: &World,
    scenario: &Scenario,
    answers: &[Answer<'_>],
    size: yarrick_draw::Size,
    output: &std::path::Path,
) -> Result<(), Failure> {
    let mut whole: Option<Route> = None;
    for route in answers
        .iter()
        .filter_map(|answer| answer.found.as_ref().ok())
    {
        match &mut whole {
            None => whole = Some(route.clone()),
            Some(whole) => {
                whole.points.extend_from_slice(&route.points);
                whole.length_m += route.length_m;
                whole.cost_m += route.cost_m;
                whole.settled += route.settled;
                whole.short = whole.short.or(route.short);
            }
        }
    }
    let searched: Vec<Cell> = answers.iter().flat_map(|a| a.searched.clone()).collect();
    let last = answers.last();
    let traced = whole.as_ref().zip(last).map(|(route, last)| Traced {
        route,
        goal: last.to,
        radius_m: last.radius_m,
        searched: &searched,
    });
    let scene = Scene {
        traced,
        ..Scene::of(&scenario.title, world)
    };
    write_sheet(&scene.draw(size), output)
}

impl Answer<'_> {
    fn to_text(&self) -> String {
        let mut text = String::new();
        // Writing to a string cannot fail.
        let _ = self.write(&mut text);
        text
    }

    fn write(&self, text: &mut String) -> std::fmt::Result {
        let point = |at: Vec2| format!("({:.2}, {:.2})", at.x, at.y);
        let (from, to) = (point(self.from), point(self.to));
        writeln!(text, "{}", self.scenario.title)?;
        writeln!(
            text,
            "from {from} to {to}, for a body {:.2} m in radius\n",
            self.radius_m
        )?;
        let route = match &self.found {
            Ok(route) => route,
            Err(why) => return writeln!(text, "No route: {why}."),
        };
        for (k, at) in route.points.iter().enumerate() {
            let line = match k.checked_sub(1) {
                Some(before) => {
                    let leg = route.points[before].distance(*at);
                    format!("{:<18}{leg:8.2} m", point(*at))
                }
                None => point(*at),
            };
            writeln!(text, "{:>4}  {line}", k + 1)?;
        }
        writeln!(
            text,
            "\n{:.2} m in {}; takes as long as {:.2} m of plain ground",
            route.length_m,
            plural(route.points.len() - 1, "leg"),
            route.cost_m
        )?;
        if let Some((why, by_m)) = self.shortfall() {
            writeln!(text, "It ends {by_m:.2} m short of the point: {why}.")?;
        }
        if let Some(barrier) = self.between() {
            writeln!(text, "In between lies {barrier}.")?;
        }
        if route.pushed_m > 0.0 {
            let m = route.pushed_m;
            writeln!(
                text,
                "The start is not free: the way begins {m:.2} m from it."
            )?;
        }
        match route.settled {
            0 => writeln!(text, "No search was needed: the straight way is the best."),
            count => writeln!(
                text,
                "The search was as much work as settling {}.",
                plural(count as usize, "cell")
            ),
        }
    }

    /// What stands in between, in words.
    fn barrier_name(&self, barrier: Barrier) -> String {
        let terrains = self.scenario.setup.ground.terrains();
        match barrier {
            Barrier::Terrain(class) => terrains
                .get(usize::from(class))
                .map_or("closed ground".to_owned(), |terrain| terrain.name.clone()),
            Barrier::Slope => "a slope that is too steep".to_owned(),
            Barrier::Building => "a building".to_owned(),
            Barrier::Door => "a shut door".to_owned(),
            Barrier::Narrow => "a gap that is too narrow".to_owned(),
            Barrier::Rim => "the rim of the map".to_owned(),
        }
    }

    fn between(&self) -> Option<String> {
        let barrier = self.found.as_ref().ok()?.barrier?;
        Some(self.barrier_name(barrier))
    }

    /// Why the way ends short of the point, and by how much.
    fn shortfall(&self) -> Option<(Shortfall, f32)> {
        let route = self.found.as_ref().ok()?;
        let end = route.points.last()?;
        Some((route.short?, end.distance(self.to)))
    }

    fn to_json(&self) -> String {
        let short = self.shortfall().map(|(why, by_m)| ShortEntry {
            why: code(&why),
            by_m,
            between: self.between(),
        });
        let document = Document {
            scenario: &self.scenario.title,
            from: self.from.to_array(),
            to: self.to.to_array(),
            radius_m: self.radius_m,
            found: self.found.is_ok(),
            why_not: self.found.as_ref().err().map(ToString::to_string),
            work_cells: self.found.as_ref().map_or(0, |route| route.settled),
            route: self.found.as_ref().ok().map(|route| RouteEntry {
                length_m: route.length_m,
                cost_m: route.cost_m,
                points: route.points.iter().map(|at| at.to_array()).collect(),
                pushed_m: route.pushed_m,
                short,
            }),
        };
        // All keys are texts and no number is NaN, so nothing can fail here.
        serde_json::to_string_pretty(&document).unwrap_or_default() + "\n"
    }
}
