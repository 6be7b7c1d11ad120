//! What is said of scenarios with errors: where, what is allowed, and the likely fix.

use std::collections::BTreeMap;
use yarrick::Scenario;
use yarrick::scenario::{Diagnostics, MAX_FILE_BYTES};

/// A sound scenario, from which the tests make unsound ones.
pub(crate) const SOUND: &str = r##"
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

pub(crate) fn errors(text: &str) -> String {
    match Scenario::parse(text) {
        Ok(_) => panic!("it is sound:\n{text}"),
        Err(errors) => errors.to_string(),
    }
}

/// What is said of the sound scenario with one piece changed.
pub(crate) fn changed(from: &str, to: &str) -> String {
    assert!(
        SOUND.contains(from),
        "{from:?} is not in the sound scenario"
    );
    errors(&SOUND.replacen(from, to, 1))
}

/// The changes, each with what is said of it.
fn messages(changes: &[(&str, &str)]) -> String {
    let reported = changes.iter().map(|(from, to)| {
        let to_line = to.replace('\n', " ⏎ ");
        format!("{from}  →  {to_line}\n{}\n", changed(from, to))
    });
    reported.collect::<Vec<_>>().join("\n")
}

/// Compares with the snapshot of the test that calls.
macro_rules! assert_output {
    ($reported:expr) => {
        insta::with_settings!({omit_expression => true}, {
            insta::assert_snapshot!($reported);
        });
    };
}
pub(crate) use assert_output;

#[test]
fn the_sound_scenario_is_sound() {
    let scenario = Scenario::parse(SOUND).unwrap();
    assert_eq!((scenario.units.len(), scenario.script.len()), (3, 1));
    assert_eq!(
        scenario.setup.kinds[1].body.radius_m, 0.4,
        "taken from the kind it is based on"
    );
    assert_eq!(scenario.setup.kinds[1].speed(), 1.9);
}

#[test]
fn keys_that_are_unknown_missing_or_of_the_wrong_type() {
    assert_output!(messages(&[
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
    assert_output!(messages(&[
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
    assert_output!(messages(&[
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
    assert_output!(messages(&[
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
    assert_output!(errors(&empty));
}

#[test]
fn units_that_do_not_fit_where_they_are_put() {
    assert_output!(messages(&[
        ("at = [0.5, 1.5]", "at = [4.5, 2.5]"),
        ("at = [0.5, 1.5]", "at = [3.9, 2.5]"),
        ("at = [0.5, 1.5]", "at = [80, 1.5]"),
        ("at = [1.5, 1.5]", "at = [3.5, 1.5]"),
        ("columns = 2", "columns = 1000\nspacing = 1000"),
    ]));
}

#[test]
fn script_entries_that_say_too_little_or_too_much() {
    assert_output!(messages(&[
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
    assert_output!(messages(&changes));
}

#[test]
fn orders_that_are_about_nothing_or_about_too_much() {
    let order = "order = \"move\"\nunits = [\"Orla\"]\npoint = [6.5, 1.5]";
    assert_output!(messages(&[
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
fn all_errors_of_a_file_are_reported_at_once_from_top_to_bottom() {
    let text = SOUND
        .replace("title", "titel")
        .replace("speed = 1.5", "speed = -1")
        .replace("\"warden\"\nside", "\"warder\"\nside")
        .replace("time = 1.0", "time = \"noon\"");
    assert_output!(errors(&text));
}

#[test]
fn texts_that_are_no_toml() {
    // Cut off in the middle of a row, as by a full disk.
    let cut = SOUND.find("\"....~...\"").unwrap() + 4;
    let nested = format!("x = {}", "[".repeat(5000));
    let reported = [
        "",
        "title = = 3\n[ground\nx = 'a",
        &SOUND[..cut],
        "a = 1\na = 2",
        &nested,
    ];
    assert_output!(reported.map(errors).join("\n\n"));
}

fn load(files: &[(&str, &str)]) -> Result<Scenario, Diagnostics> {
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
    assert_output!(load(&files).unwrap_err().to_string());
}

#[test]
fn files_that_are_missing_outside_or_in_a_circle() {
    let message = |main: &str, other: &str| {
        let files = [("main.toml", main), ("other.toml", other)];
        load(&files).unwrap_err().to_string()
    };
    let all = [
        message("include = [\"gone.toml\"]", ""),
        message("include = [\"../secret.toml\"]", ""),
        message("include = [\"/etc/hosts\"]", ""),
        message("include = [\"other.toml\"]", "include = [\"main.toml\"]"),
        load(&[]).unwrap_err().to_string(),
    ];
    assert_output!(all.join("\n"));
}

#[test]
fn a_map_of_ten_thousand_by_ten_thousand_is_refused() {
    let wide = ".".repeat(10_000);
    let text = SOUND.replace("........", &wide).replace("....~...", &wide);
    let reported = errors(&text);
    assert!(
        reported.contains("10000 by 4 cells; at most 4096 a side are allowed"),
        "{reported}"
    );

    let row = format!("    \"{wide}\",\n");
    let whole = SOUND.replacen("    \"....~...\",\n", &row.repeat(10_000), 1);
    assert!(whole.len() > MAX_FILE_BYTES);
    assert_output!(errors(&whole));
}

#[test]
fn a_thousand_errors_are_counted_and_a_hundred_reported() {
    let text = format!("{SOUND}{}", "[[unit]]\nkind = \"nobody\"\n".repeat(1000));
    let errors = Scenario::parse(&text).unwrap_err();
    assert_eq!(errors.list().len(), 100);
    assert!(errors.count() >= 1000);
    assert!(errors.to_string().ends_with(" more"));
}
