//! What is said of errors in the parts of a scenario: places, gaits, doors, links, tallies, flocks.

use crate::scenario_errors::{SOUND, assert_output, errors};
use yarrick::{Scenario, Vec2};

/// The messages about a sound text where something in it is replaced, for each replacement.
fn messages_of_changes(sound: &str, changes: &[(&str, &str)]) -> String {
    let mut all = String::new();
    for (from, to) in changes {
        assert!(sound.contains(from), "{from}");
        let reported = errors(&sound.replacen(from, to, 1));
        all += &format!("{} → {}\n{reported}\n", from.trim(), to.trim());
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
fn places_and_legs_are_read_and_their_errors_are_reported() {
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
    assert_output!(messages_of_changes(&sound, &changes));
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
fn gaits_doors_and_links_are_read_and_their_errors_are_reported() {
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
    assert_eq!(
        scenario.setup.kinds[2].body.gait,
        yarrick::ground::GaitId(1)
    );
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
    assert_output!(messages_of_changes(&sound, &changes));
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
    assert_output!(messages_of_changes(&sound, &changes));
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
fn flocks_zones_marches_and_driving_are_read_and_their_errors_are_reported() {
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
        ("formation = \"wedge\"\n", "slots = []\n"),
        ("formation = \"wedge\"\n", "slots = [[0.0, 2000.0]]\n"),
        ("facing = 90", "facing = 90\nfacing_rad = 1.0"),
        ("form = \"line\"", "form = \"heap\""),
    ];
    assert_output!(messages_of_changes(&sound, &changes));
}
