//! What is said of scenarios with errors: where, what is allowed, and the likely fix.

use std::collections::BTreeMap;
use yarrick::Scenario;
use yarrick::Vec2;
use yarrick::scenario::{MAX_FILE_BYTES, ScenarioErrors};

/// A sound scenario, from which the tests make unsound ones.
const SOUND: &str = r##"
[scenario]
title = "A walk on the flats"

[ground]
rows = [
    "....~...",
    "....~...",
    "....~...",
    "........",
]

[ground.legend]
"." = { name = "sand" }
"~" = { name = "creek", passable = false }

[[side]]
name = "keepers"

[[kind]]
name = "raker"
radius = 0.4
speed = 1.5

[[kind]]
name = "warden"
based_on = "raker"
speed = 1.9

[[unit]]
name = "Orla"
kind = "raker"
side = "keepers"
at = [0.5, 1.5]

[[block]]
name = "wardens"
kind = "warden"
side = "keepers"
at = [1.5, 1.5]
columns = 2
rows = 1

[[script]]
time = 1.0
side = "keepers"
order = "move"
units = ["Orla"]
point = [6.5, 1.5]
"##;

fn errors(text: &str) -> String {
    match Scenario::parse(text) {
        Ok(_) => panic!("it is sound:\n{text}"),
        Err(errors) => errors.to_string(),
    }
}

/// What is said of the sound scenario with one piece changed.
fn changed(from: &str, to: &str) -> String {
    assert!(
        SOUND.contains(from),
        "{from:?} is not in the sound scenario"
    );
    errors(&SOUND.replacen(from, to, 1))
}

/// The changes, each with what is said of it.
fn told(changes: &[(&str, &str)]) -> String {
    let told = changes.iter().map(|(from, to)| {
        let to_line = to.replace('\n', " ⏎ ");
        format!("{from}  →  {to_line}\n{}\n", changed(from, to))
    });
    told.collect::<Vec<_>>().join("\n")
}

/// Compares with the snapshot of the test that calls.
macro_rules! assert_told {
    ($told:expr) => {
        insta::with_settings!({omit_expression => true}, {
            insta::assert_snapshot!($told);
        });
    };
}

#[test]
fn the_sound_scenario_is_sound() {
    let scenario = Scenario::parse(SOUND).unwrap();
    assert_eq!((scenario.units.len(), scenario.script.len()), (3, 1));
    assert_eq!(
        scenario.setup.kinds[1].radius_m, 0.4,
        "taken from the kind it is based on"
    );
    assert_eq!(scenario.setup.kinds[1].speed, 1.9);
}

#[test]
fn keys_that_are_unknown_missing_or_of_the_wrong_type() {
    assert_told!(told(&[
        ("title =", "titel ="),
        ("title = \"A walk on the flats\"", ""),
        ("title = \"A walk on the flats\"", "title = 7"),
        ("[[side]]", "[[sides]]"),
        ("[[side]]\nname = \"keepers\"", ""),
        ("[scenario]\ntitle = \"A walk on the flats\"", ""),
        ("[[script]]", "[script]"),
        ("radius = 0.4\n", "radius = 0.4\ncolour = \"blue\"\n"),
        ("speed = 1.5", "speed = \"fast\""),
        ("speed = 1.5", ""),
        ("columns = 2", "columns = 2.5"),
        ("at = [0.5, 1.5]", "at = [0.5]"),
        ("at = [0.5, 1.5]", "at = 1979-05-27"),
        ("units = [\"Orla\"]", "units = \"Orla\""),
        ("units = [\"Orla\"]", "units = [3]"),
        ("passable = false", "passable = \"no\""),
        ("title =", "include = \"roster.toml\"\ntitle ="),
    ]));
}

#[test]
fn names_that_are_unknown_repeated_or_go_in_circles() {
    assert_told!(told(&[
        ("kind = \"warden\"", "kind = \"wardn\""),
        ("side = \"keepers\"", "side = \"keeper\""),
        ("side = \"keepers\"", "side = \"the tide\""),
        ("name = \"warden\"", "name = \"raker\""),
        ("name = \"wardens\"", "name = \"Orla\""),
        ("based_on = \"raker\"", "based_on = \"rakre\""),
        ("based_on = \"raker\"", "based_on = \"warden\""),
        ("radius = 0.4", "based_on = \"warden\""),
        ("units = [\"Orla\"]", "units = [\"Orlo\"]"),
        ("order = \"move\"", "order = \"mov\""),
        ("name = \"raker\"", "name = \"\""),
        (
            "[[side]]",
            "[[side]]\nname = \"tide\"\n[[side]]\nname = \"tide\"\n[[side]]"
        ),
    ]));
}

#[test]
fn numbers_out_of_range() {
    assert_told!(told(&[
        ("radius = 0.4", "radius = nan"),
        ("radius = 0.4", "radius = -0.4"),
        ("radius = 0.4", "radius = 0"),
        ("radius = 0.4", "radius = 40.0"),
        ("speed = 1.5", "speed = 1.5\nfootprint = [4, nan]"),
        ("speed = 1.5", "speed = 1.5\nfootprint = [4]"),
        ("speed = 1.5", "speed = 1.5\nheight = -1"),
        ("speed = 1.5", "speed = inf"),
        ("speed = 1.5", "speed = 1e300"),
        ("speed = 1.5", "speed = 1.5\nturn_rate = -1"),
        ("speed = 1.5", "speed = 1.5\nbraking = 0"),
        ("at = [0.5, 1.5]", "at = [nan, 1.5]"),
        ("at = [0.5, 1.5]", "at = [0.5, -inf]"),
        ("time = 1.0", "time = -1"),
        ("columns = 2", "columns = 0"),
        ("columns = 2", "columns = 99999999999999999999"),
        ("columns = 2", "columns = 2\nspacing = 0.1"),
        ("columns = 2", "columns = 2\nscatter = 3"),
        ("title =", "seed = -1\ntitle ="),
        ("title =", "ticks_per_second = 0\ntitle ="),
        ("title =", "plan_budget = 0\ntitle ="),
        ("title =", "duration = nan\ntitle ="),
        ("rows = [", "cell = 0\nrows = ["),
        ("name = \"sand\"", "name = \"sand\", speed = 9"),
    ]));
}

#[test]
fn maps_that_are_ragged_empty_or_not_in_the_legend() {
    assert_told!(told(&[
        ("\"....~...\",", "\"....~....\","),
        ("\"....~...\",", "\"....#?..\","),
        ("\"........\",", "\"........\",\n    7,"),
        ("\"~\" = {", "\"~~\" = {"),
        ("{ name = \"sand\" }", "\"sand\""),
        ("{ name = \"sand\" }", "{ name = \"sand\", pasable = true }"),
        (
            "{ name = \"sand\" }",
            "{ name = \"sand\", passable = false }"
        ),
        ("rows = [", "heights = [\"00000000\"]\nrows = ["),
        (
            "rows = [",
            "heights = [\"00000000\", \"000!0000\", \"00000000\", \"00000000\"]\nrows = ["
        ),
        ("[ground.legend]", "[ground]"),
    ]));
    let empty = SOUND.replace("....~...", "").replace("........", "");
    assert_told!(errors(&empty));
}

#[test]
fn units_that_do_not_fit_where_they_are_put() {
    assert_told!(told(&[
        ("at = [0.5, 1.5]", "at = [4.5, 2.5]"),
        ("at = [0.5, 1.5]", "at = [3.9, 2.5]"),
        ("at = [0.5, 1.5]", "at = [80, 1.5]"),
        ("at = [1.5, 1.5]", "at = [3.5, 1.5]"),
        ("columns = 2", "columns = 1000\nspacing = 1000"),
    ]));
}

#[test]
fn script_entries_that_say_too_little_or_too_much() {
    assert_told!(told(&[
        ("order = \"move\"", ""),
        ("order = \"move\"", "order = \"move\"\npointer = \"press\""),
        ("order = \"move\"", "pointer = \"pres\""),
        (
            "order = \"move\"\nunits = [\"Orla\"]",
            "pointer = \"press\"\nkeys = [\"shft\"]"
        ),
        (
            "order = \"move\"\nunits = [\"Orla\"]",
            "pointer = \"press\"\nbutton = \"left\""
        ),
        ("units = [\"Orla\"]", "ids = [\"0v1\", \"seven\"]"),
        ("units = [\"Orla\"]", "units = [\"Orla\"]\nids = [\"0v1\"]"),
        ("point = [6.5, 1.5]", ""),
        ("point = [6.5, 1.5]", "point = [6.5, 1.5]\nwhen = \"later\""),
        ("side = \"keepers\"\norder", "order"),
        (
            "order = \"move\"\nunits = [\"Orla\"]\npoint = [6.5, 1.5]",
            "group = 10\nact = \"fetch\""
        ),
        (
            "order = \"move\"\nunits = [\"Orla\"]\npoint = [6.5, 1.5]",
            "group = 1"
        ),
    ]));
}

#[test]
fn weapons_sides_and_click_rules_that_make_no_sense() {
    let weapon = |of: &str| format!("speed = 1.9\nweapon = {of}");
    let side = |more: &str| format!("name = \"keepers\"\n{more}");
    let click = |of: &str| format!("[[click]]\n{of}\n[[script]]");
    let changes = [
        ("speed = 1.9", weapon("{ range = 1, damage = 2 }")),
        (
            "speed = 1.9",
            weapon("{ range = 1, damage = 2, cooldown = 0 }"),
        ),
        (
            "speed = 1.9",
            weapon("{ rnge = 1, damage = 2, cooldown = 1 }"),
        ),
        ("speed = 1.9", weapon("true")),
        (
            "speed = 1.9",
            "speed = 1.9\nhealth = -3\nnotice = 1000\nrallies = 1".to_owned(),
        ),
        ("name = \"keepers\"", side("allies = [\"kepers\"]")),
        ("name = \"keepers\"", side("allies = [\"keepers\"]")),
        (
            "name = \"keepers\"",
            side("neutral = \"yes\"\nshares_control_with = \"all\""),
        ),
        ("[[script]]", click("on = \"fo\"\norder = \"atack\"")),
        (
            "[[script]]",
            click("who = \"walks\"\non = \"foe\"\norder = \"attack\""),
        ),
    ];
    let changes: Vec<(&str, &str)> = changes.iter().map(|(a, b)| (*a, b.as_str())).collect();
    assert_told!(told(&changes));
}

#[test]
fn orders_that_are_about_nothing_or_about_too_much() {
    let order = "order = \"move\"\nunits = [\"Orla\"]\npoint = [6.5, 1.5]";
    assert_told!(told(&[
        (order, "order = \"attack\""),
        (order, "order = \"attack\"\ntarget = \"Orl\""),
        (order, "order = \"attack\"\ntarget = \"wardens\""),
        (order, "order = \"attack\"\ntarget_id = \"seven\""),
        (
            order,
            "order = \"follow\"\ntarget = \"Orla\"\ntarget_id = \"0v1\""
        ),
        (
            order,
            "order = \"guard\"\ntarget = \"Orla\"\npoint = [1, 1]"
        ),
        (order, "order = \"guard\""),
        (order, "order = \"patrol\"\npoints = []"),
        (order, "order = \"patrol\"\npoints = [[1, 1], [2]]"),
        (
            order,
            "order = \"patrol\"\npoints = [[1, 1]]\npoint = [2, 2]\nround = 1"
        ),
        (order, "order = \"context\"\npoint = [nan, 1]"),
        (order, "intent = \"attack move\""),
        (order, "pointer = \"press\"\npoint = [1, 1]\ncontact = -1"),
    ]));
}

#[test]
fn all_mistakes_of_a_file_are_told_at_once_from_top_to_bottom() {
    let text = SOUND
        .replace("title", "titel")
        .replace("speed = 1.5", "speed = -1")
        .replace("\"warden\"\nside", "\"warder\"\nside")
        .replace("time = 1.0", "time = \"noon\"");
    assert_told!(errors(&text));
}

#[test]
fn texts_that_are_no_toml() {
    // Cut off in the middle of a row, as by a full disk.
    let cut = SOUND.find("\"....~...\"").unwrap() + 4;
    let nested = format!("x = {}", "[".repeat(5000));
    let told = [
        "",
        "title = = 3\n[ground\nx = 'a",
        &SOUND[..cut],
        "a = 1\na = 2",
        &nested,
    ];
    assert_told!(told.map(errors).join("\n\n"));
}

fn load(files: &[(&str, &str)]) -> Result<Scenario, ScenarioErrors> {
    let files: BTreeMap<_, _> = files.iter().copied().collect();
    Scenario::load("main.toml", &|name| {
        let text = files.get(name).map(|text| (*text).to_owned());
        text.ok_or_else(|| "there is no such file".to_owned())
    })
}

#[test]
fn a_scenario_can_be_spread_over_files() {
    let (head, rest) = SOUND.split_at(SOUND.find("[ground]").unwrap());
    let (ground, rest) = rest.split_at(rest.find("[[side]]").unwrap());
    let main = format!("include = [\"ground.toml\", \"sub/roster.toml\"]\n{head}");
    let files = [
        ("main.toml", main.as_str()),
        ("ground.toml", ground),
        ("sub/roster.toml", rest),
    ];
    assert_eq!(load(&files).unwrap().units.len(), 3);

    let twice = format!("{ground}\n{head}");
    let files = [
        ("main.toml", main.as_str()),
        ("ground.toml", &twice),
        ("sub/roster.toml", rest),
    ];
    assert_told!(load(&files).unwrap_err().to_string());
}

#[test]
fn files_that_are_missing_outside_or_in_a_circle() {
    let told = |main: &str, other: &str| {
        let files = [("main.toml", main), ("other.toml", other)];
        load(&files).unwrap_err().to_string()
    };
    let all = [
        told("include = [\"gone.toml\"]", ""),
        told("include = [\"../secret.toml\"]", ""),
        told("include = [\"/etc/hosts\"]", ""),
        told("include = [\"other.toml\"]", "include = [\"main.toml\"]"),
        load(&[]).unwrap_err().to_string(),
    ];
    assert_told!(all.join("\n"));
}

#[test]
fn a_map_of_ten_thousand_by_ten_thousand_is_refused() {
    let wide = ".".repeat(10_000);
    let text = SOUND.replace("........", &wide).replace("....~...", &wide);
    let told = errors(&text);
    assert!(
        told.contains("10000 by 4 cells; at most 4096 a side are allowed"),
        "{told}"
    );

    let row = format!("    \"{wide}\",\n");
    let whole = SOUND.replacen("    \"....~...\",\n", &row.repeat(10_000), 1);
    assert!(whole.len() > MAX_FILE_BYTES);
    assert_told!(errors(&whole));
}

#[test]
fn a_thousand_mistakes_are_counted_and_a_hundred_told() {
    let text = format!("{SOUND}{}", "[[unit]]\nkind = \"nobody\"\n".repeat(1000));
    let errors = Scenario::parse(&text).unwrap_err();
    assert_eq!(errors.list().len(), 100);
    assert!(errors.count() >= 1000);
    assert!(errors.to_string().ends_with("more errors"));
}

/// What is told of a sound text where something in it is replaced, for each replacement.
fn told_of_changes(sound: &str, changes: &[(&str, &str)]) -> String {
    let mut all = String::new();
    for (from, to) in changes {
        assert!(sound.contains(from), "{from}");
        let told = errors(&sound.replacen(from, to, 1));
        all += &format!("{} → {}\n{told}\n", from.trim(), to.trim());
    }
    all
}

/// Places and legs in good order.
const PLACES: &str = r##"
[[leg]]
from = "yard"
to = "pans"

[[leg]]
from = "pans"
to = "sluice"
cost = 40.5
one_way = true

[[place]]
name = "yard"
at = [0.5, 0.5]

[[place]]
name = "pans"
at = [4.5, 0.5]

[[place]]
name = "sluice"
at = [3.5, 2.5]
"##;

#[test]
fn places_and_legs_are_read_and_their_mistakes_are_told() {
    let sound = format!("{SOUND}{PLACES}");
    assert!(Scenario::parse(SOUND).unwrap().waypoints.is_none());
    let waypoints = Scenario::parse(&sound).unwrap().waypoints.unwrap();
    let trip = waypoints.find(0, 2).unwrap();
    assert_eq!((trip.places, trip.cost_m), (vec![0, 1, 2], 44.5));
    assert_eq!(waypoints.find(2, 0), None);

    let changes = [
        ("to = \"pans\"", "to = \"pan\""),
        ("to = \"pans\"", "to = \"yard\""),
        ("to = \"pans\"\n", ""),
        ("cost = 40.5", "cost = 0"),
        ("cost = 40.5", "costs = 40.5"),
        ("one_way = true", "one_way = 1"),
        ("name = \"sluice\"", "name = \"yard\""),
        ("at = [4.5, 0.5]", "at = [45, 0.5]"),
        ("at = [4.5, 0.5]", "at = [4.5]"),
        ("at = [4.5, 0.5]\n", ""),
    ];
    assert_told!(told_of_changes(&sound, &changes));
}

/// What a scenario may say of gaits, doors and links, in good order.
const WAYS: &str = r##"
[[gait]]
name = "sledge"
steepest = 0.4
climb = 3
on = { sand = 0.8, creek = false }

[[gait]]
name = "dunlin"
flies = true

[[door]]
name = "sluice"
from = [4.5, 0.5]
to = [4.5, 0.5]
shut = false

[[link]]
name = "ferry"
from = [3.5, 2.5]
to = [5.5, 2.5]
cost = 4
both_ways = false
gaits = ["foot", "sledge"]

[[kind]]
name = "sled"
gait = "sledge"
radius = 0.6
speed = 1.0
"##;

#[test]
fn gaits_doors_and_links_are_read_and_their_mistakes_are_told() {
    let sound = format!("{SOUND}{WAYS}");
    let scenario = Scenario::parse(&sound).unwrap();
    let ground = &scenario.setup.ground;
    let names: Vec<&str> = ground
        .gaits()
        .iter()
        .map(|gait| gait.name.as_str())
        .collect();
    assert_eq!(names, ["foot", "sledge", "dunlin"]);
    assert_eq!(ground.doors().len(), 1);
    assert_eq!(ground.links()[0].cost_m, 4.0);
    assert_eq!(scenario.setup.kinds[2].gait, yarrick::ground::GaitId(1));
    let hexes = sound.replace("rows = [\n", "lattice = \"hexes\"\nrows = [\n");
    let hexes = hexes.replace("at = [0.5, 1.5]", "at = [1.0, 1.45]");
    let hexes = Scenario::parse(&hexes).unwrap();
    assert_eq!(
        hexes.setup.ground.lattice(),
        yarrick::ground::Lattice::Hexes
    );

    let changes = [
        ("rows = [\n", "lattice = \"hex\"\nrows = [\n"),
        ("creek = false", "crek = false"),
        ("sand = 0.8", "sand = 9"),
        ("sand = 0.8", "sand = true"),
        ("climb = 3", "climb = -1"),
        ("steepest = 0.4", "steepest = \"much\""),
        ("name = \"dunlin\"", "name = \"sledge\""),
        ("flies = true", "flys = true"),
        ("gait = \"sledge\"", "gait = \"sledgee\""),
        ("from = [4.5, 0.5]", "from = [40.5, 0.5]"),
        ("to = [5.5, 2.5]", "to = [5.5, 9.5]"),
        ("cost = 4", "cost = 0"),
        ("\"foot\", \"sledge\"]", "\"foot\", \"sled\"]"),
        ("name = \"ferry\"\n", ""),
    ];
    assert_told!(told_of_changes(&sound, &changes));
}

#[test]
fn tally_lines() {
    let line = "[[tally]]\nname = \"the gap\"\nfrom = [4.0, 0.5]\nto = [4.0, 1.5]\n";
    let sound = format!("{SOUND}\n{line}");
    let scenario = Scenario::parse(&sound).unwrap();
    assert_eq!(scenario.tallies[0].name, "the gap");
    let changes = [
        ("name = \"the gap\"\n", ""),
        ("from = [4.0, 0.5]", "from = [40.0, 0.5]"),
        ("from = [4.0, 0.5]", "from = [4.0, nan]"),
        ("to = [4.0, 1.5]", "to = [4.0, 0.5]"),
        ("to = [4.0, 1.5]", "too = [4.0, 1.5]"),
    ];
    assert_told!(told_of_changes(&sound, &changes));
}

/// A flock with its zones, a march, and a kind that drives.
const FLOCKS: &str = r##"
[[kind]]
name = "sledge"
radius = 0.45
speed = 1.5
acceleration = 2.0
braking = 3.0
turning = "driving"
circle = 1.5

[[unit]]
name = "torchbearer"
kind = "raker"
side = "keepers"
at = [1.5, 1.5]

[[flock]]
name = "dunlins"
count = 20
at = [4.0, 2.0]
spread = 1.0
view = 2.5
view_angle = 270
spacing = 0.8
speed = [1.0, 2.0]
turn_rate = 180
altitude = [2.0, 9.0]
altitude_margin = 1.0
climb = 1.5
size = [0.2, 0.3]
shades = 3

[[zone]]
name = "bay"
flocks = ["dunlins"]
role = "pen"
box = [30.0, 20.0]
at = [4.0, 2.0]
margin = 2.0

[[zone]]
name = "torch"
role = "scare"
unit = "torchbearer"
circle = 3.0

[[zone]]
name = "mudhole"
role = "lure"
polygon = [[2.0, 0.0], [4.0, 0.0], [4.0, 2.0]]
weight = 2.5

[[script]]
time = 1.0
zone = "torch"
act = "off"

[[script]]
time = 2.0
zone = "mudhole"
act = "move"
point = [6.0, 2.0]

[[script]]
time = 3.0
side = "keepers"
order = "march"
units = ["torchbearer"]
point = [6.5, 2.5]
formation = "wedge"
facing = 90
abreast = 3
slowest_leads = false
fight = true

[[script]]
time = 4.0
side = "keepers"
form = "line"
"##;

#[test]
fn flocks_zones_marches_and_driving_are_read_and_their_mistakes_are_told() {
    let sound = format!("{SOUND}{FLOCKS}");
    let scenario = Scenario::parse(&sound).unwrap();
    assert_eq!((scenario.flocks.len(), scenario.zones.len()), (1, 3));
    let mut play = scenario.play(None).unwrap();
    play.run_until(6.0, |_, _| {});
    let world = play.world();
    let (id, name, flock) = world.flocks().next().unwrap();
    assert_eq!((name, flock.len(), flock.zones().len()), ("dunlins", 20, 3));
    let zones: Vec<_> = flock.zones().collect();
    let carrier = world.carrier(id, zones[1].0).unwrap();
    let bearer = world.unit(carrier).unwrap();
    assert_eq!(
        zones[1].1.at,
        bearer.position(),
        "the torch is where its bearer is"
    );
    assert!(!zones[1].1.is_on);
    assert_eq!(zones[2].1.at, Vec2::new(6.0, 2.0));

    let changes = [
        ("turning = \"driving\"", "turning = \"wheels\""),
        ("acceleration = 2.0", "acceleration = 0"),
        ("count = 20", "count = 0"),
        ("view = 2.5", "view = -1"),
        ("spacing = 0.8", "spacing = 5.0"),
        ("speed = [1.0, 2.0]", "speed = [3.0, 2.0]"),
        ("speed = [1.0, 2.0]", "speed = [0.0, 2.0]"),
        ("altitude = [2.0, 9.0]", "altitude = [9.0, 2.0]"),
        ("altitude = [2.0, 9.0]\n", ""),
        ("view_angle = 270", "view_angel = 270"),
        ("role = \"pen\"", "role = \"pan\""),
        ("flocks = [\"dunlins\"]", "flocks = [\"dunlin\"]"),
        ("box = [30.0, 20.0]", "box = [30.0, 0.1]"),
        ("box = [30.0, 20.0]", "box = [30.0, 20.0]\ncircle = 3.0"),
        ("box = [30.0, 20.0]\n", ""),
        ("circle = 3.0\n", "circle = -3.0\n"),
        (
            "polygon = [[2.0, 0.0], [4.0, 0.0], [4.0, 2.0]]",
            "polygon = [[2.0, 0.0], [4.0, 0.0]]",
        ),
        (
            "polygon = [[2.0, 0.0], [4.0, 0.0], [4.0, 2.0]]",
            "polygon = [[2.0, 0.0], [4.0, 0.0], [6.0, 0.0]]",
        ),
        ("role = \"lure\"", "role = \"pen\"\nat = [400.0, 0.0]"),
        ("weight = 2.5", "weight = -2.5"),
        ("unit = \"torchbearer\"\n", ""),
        ("unit = \"torchbearer\"", "unit = \"torchbarer\""),
        ("zone = \"torch\"", "zone = \"trch\""),
        ("act = \"move\"\npoint = [6.0, 2.0]", "act = \"move\""),
        ("formation = \"wedge\"", "formation = \"wege\""),
        ("formation = \"wedge\"\n", ""),
        ("facing = 90", "facing = 90\nfacing_rad = 1.0"),
        ("form = \"line\"", "form = \"heap\""),
    ];
    assert_told!(told_of_changes(&sound, &changes));
}
