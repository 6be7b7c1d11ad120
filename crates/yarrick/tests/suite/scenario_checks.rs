//! What is found in scenarios beyond single errors: everything at once, and what is only odd.

use yarrick::Scenario;

/// Something is wrong with the map, the kinds, a door and more; units and scripts are checked all the same, and nothing
/// is reported that only follows from another error.
#[test]
fn errors_in_the_map_and_the_kinds_hide_no_others() {
    let everything = include_str!("scenario_checks/everything.toml");
    let errors = Scenario::parse(everything).unwrap_err();
    insta::assert_snapshot!(errors);
}

#[test]
fn what_is_hardly_meant_is_a_warning_at_its_line() {
    let odd = include_str!("scenario_checks/odd.toml");
    let scenario = Scenario::parse(odd).unwrap();
    insta::assert_snapshot!(scenario.warnings);
    assert_eq!(scenario.units.len(), 3, "it can be played all the same");
}

#[test]
fn a_scenario_of_which_nothing_is_odd_has_no_warnings() {
    let text = include_str!("scenario_checks/odd.toml");
    let (start, _) = text.split_once("[[script]]").unwrap();
    let scenario = Scenario::parse(start).unwrap();
    assert_eq!(scenario.warnings.count(), 0);
    assert!(scenario.warnings.sources().is_empty());
}

/// Ids follow the file, whether units stand in it by themselves or in blocks.
#[test]
fn units_are_numbered_in_the_order_of_the_file() {
    let odd = include_str!("scenario_checks/odd.toml");
    let scenario = Scenario::parse(odd).unwrap();
    let names = scenario.units.iter().map(|unit| unit.name.as_deref());
    let names: Vec<_> = names.map(Option::unwrap_or_default).collect();
    assert_eq!(names, ["rakers/0", "rakers/1", "Orla"]);
}
