//! Drives the built command over maps that are no scenarios: plain text and pictures.

use crate::command::{assert_output, outputs};
use tempfile::TempDir;

/// A folder with plain text maps and lists of pairs, good and bad.
fn plain_files() -> TempDir {
    let folder = TempDir::new().unwrap();
    for (name, text) in [
        (
            "marsh.txt",
            "....#....\n.~~.#.,,.\r\n.~~.#.,,.\n.........\n\n",
        ),
        ("odd.txt", "..o..\n..o..\n"),
        ("ragged.txt", "...\n..\n.q.\n"),
        ("closed.txt", "###\n"),
        ("empty.txt", "\n\n"),
        (
            "legend.toml",
            "\".\" = { name = \"sand\" }\n\"o\" = { name = \"bog\", speed = 0.25 }\n",
        ),
        ("bad.toml", "\".\" = { name = \"sand\" }\n\"oo\" = 3\n"),
        (
            "pairs.txt",
            "# from, to\n0.5 3.5  8.5 3.5\n\n0.5,3.5, 2.0,2.0 # into the creek\n",
        ),
        ("bad-pairs.txt", "1 2 3\n4 5 6 7\nx y z 1\n1 2 3 1e30\n"),
        ("no-pairs.txt", "# none\n"),
    ] {
        std::fs::write(folder.path().join(name), text).unwrap();
    }
    folder
}

#[test]
fn ways_over_plain_text_maps_go_on_from_point_to_point() {
    let folder = plain_files();
    let printed = |arguments: &[&str]| outputs(folder.path(), arguments, 0).0;
    let way = ["--from", "0.5,3.5", "--to", "8.5,3.5"];
    let all = [
        printed(
            &[
                &["route", "marsh.txt", "--radius", "0.3", "--to", "0.5,0.5"],
                &way[..],
            ]
            .concat(),
        ),
        printed(&[
            "route",
            "odd.txt",
            "--legend",
            "legend.toml",
            "--from",
            "0.5,0.5",
            "--to",
            "4.5,0.5",
        ]),
        printed(&[
            "route",
            "--pattern",
            "open",
            "--side",
            "20",
            "--from",
            "1,1",
            "--to",
            "19,18",
        ]),
    ];
    assert_output!(all.join("\n"));
    let json = printed(
        &[
            &["route", "marsh.txt", "--json", "--to", "0.5,0.5"],
            &way[..],
        ]
        .concat(),
    );
    let value: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!(value.as_array().unwrap().len(), 2);
}

#[test]
fn many_ways_are_measured_and_what_they_cost_repeats() {
    let folder = plain_files();
    let measured = |arguments: &[&str]| {
        let (json, _) = outputs(
            folder.path(),
            &[&["route", "--json"], arguments].concat(),
            0,
        );
        let mut value: serde_json::Value = serde_json::from_str(&json).unwrap();
        let report = value.as_object_mut().unwrap();
        // Times are never the same twice.
        assert!(report.remove("time_ms").unwrap()["total"].as_f64() > Some(0.0));
        assert!(report.remove("clearance_ms").unwrap().as_f64() > Some(0.0));
        value
    };
    let rooms = [
        "--pattern",
        "rooms",
        "--side",
        "96",
        "--seed",
        "7",
        "--pairs",
        "30",
        "--bench",
    ];
    assert_eq!(measured(&rooms), measured(&rooms));
    let listed = measured(&["marsh.txt", "--bench", "pairs.txt"]);
    let all = [measured(&rooms), listed].map(|value| serde_json::to_string_pretty(&value).unwrap());
    assert_output!(all.join("\n"));
    let (text, _) = outputs(folder.path(), &["route", "marsh.txt", "--bench"], 0);
    assert!(
        text.contains("100 found, 0 came short, 0 led nowhere"),
        "{text}"
    );
}

#[test]
fn bad_maps_and_pairs_are_reported_line_by_line() {
    let folder = plain_files();
    let refused = |code: i32, arguments: &[&str]| {
        let all = [&["route"], arguments].concat();
        format!(
            "> {}\n{}",
            all.join(" "),
            outputs(folder.path(), &all, code).1
        )
    };
    let all = [
        refused(1, &["odd.txt", "--bench"]),
        refused(1, &["ragged.txt", "--bench"]),
        refused(1, &["closed.txt", "--bench"]),
        refused(1, &["empty.txt", "--bench"]),
        refused(1, &["odd.txt", "--legend", "bad.toml", "--bench"]),
        refused(1, &["marsh.txt", "--bench", "bad-pairs.txt"]),
        refused(1, &["marsh.txt", "--bench", "no-pairs.txt"]),
        refused(2, &["marsh.txt", "--bench", "--gait", "sledge"]),
        refused(2, &["marsh.txt", "--bench", "--radius", "16"]),
        refused(2, &["--pattern", "hills", "--bench"]),
        refused(2, &["--pattern", "open", "--side", "0", "--bench"]),
        refused(2, &["--pattern", "open", "--bench", "--pairs", "0"]),
        refused(2, &["marsh.txt"]),
        refused(2, &["marsh.txt", "--to", "1,1"]),
        refused(3, &["gone.txt", "--bench"]),
        refused(3, &["marsh.txt", "--bench", "gone.txt"]),
    ];
    assert_output!(all.join("\n"));
}

/// Writes a picture of `width` by `height` pixels: sand, with a dyke in its third column but for the lowest row.
fn write_picture(path: &std::path::Path, width: u32, height: u32) {
    let file = std::fs::File::create(path).unwrap();
    let mut encoder = png::Encoder::new(file, width, height);
    encoder.set_color(png::ColorType::Rgb);
    let pixel = |k: u32| match (k % width == 2, k / width + 1 == height) {
        (true, false) => [0x6c, 0x67, 0x5d],
        _ => [0xf0, 0xea, 0xd9],
    };
    let bytes: Vec<u8> = (0..width * height).flat_map(pixel).collect();
    let mut writer = encoder.write_header().unwrap();
    writer.write_image_data(&bytes).unwrap();
}

#[test]
fn a_picture_is_a_map_whose_legend_names_its_colours() {
    let folder = plain_files();
    let here = folder.path();
    write_picture(&here.join("marsh.png"), 5, 4);
    write_picture(&here.join("huge.png"), 5000, 1);
    std::fs::write(here.join("broken.png"), "no picture").unwrap();
    for (name, text) in [
        (
            "colours.toml",
            "\"#f0ead9\" = { name = \"sand\" }\n\"#6c675d\" = { name = \"dyke\", passable = false }\n",
        ),
        ("sand.toml", "\"#f0ead9\" = { name = \"sand\" }\n"),
        ("words.toml", "\"sand\" = { name = \"sand\" }\n"),
    ] {
        std::fs::write(here.join(name), text).unwrap();
    }
    let way = ["--from", "0.5,3.5", "--to", "4.5,3.5"];
    let printed = |code: i32, arguments: &[&str]| {
        let all = [&["route"], arguments, &way].concat();
        let (out, err) = outputs(here, &all, code);
        format!("> {}\n{out}{err}", all.join(" "))
    };
    let all = [
        printed(0, &["marsh.png", "--legend", "colours.toml"]),
        printed(1, &["marsh.png", "--legend", "sand.toml"]),
        printed(1, &["marsh.png", "--legend", "words.toml"]),
        printed(2, &["marsh.png"]),
        printed(3, &["huge.png", "--legend", "colours.toml"]),
        printed(3, &["broken.png", "--legend", "colours.toml"]),
    ];
    assert_output!(all.join("\n"));
}

#[test]
fn a_plain_text_map_is_checked_as_a_map() {
    let folder = plain_files();
    let folder = folder.path();
    let (out, _) = outputs(folder, &["check", "marsh.txt"], 0);
    let with_legend = ["check", "odd.txt", "--legend", "legend.toml"];
    let (legend, _) = outputs(folder, &with_legend, 0);
    let (_, err) = outputs(folder, &["check", "ragged.txt"], 1);
    assert_output!(format!("{out}{legend}{err}"));
}
