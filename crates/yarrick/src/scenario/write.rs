//! Writing what was ordered in a live world back into a scenario: as script entries.

use crate::world::{Event, OrderWriter, World};
use std::fmt::Write as _;

/// Takes down the orders of a live world as the `[[script]]` entries of a scenario file.
///
/// A scenario with the same start and these entries goes the same way: units are named by their
/// ids, which come out the same when the same units are put in in the same order. Selections are
/// not taken down, since they change nothing in the world.
///
/// ```
/// # use yarrick::scenario::{Scenario, ScriptWriter};
/// # let start = r#"
/// # [scenario]
/// # title = "A walk"
/// # [ground]
/// # rows = ["........", "........"]
/// # legend = { "." = { name = "sand" } }
/// # [[side]]
/// # name = "keepers"
/// # [[kind]]
/// # name = "raker"
/// # radius = 0.4
/// # speed = 1.5
/// # [[unit]]
/// # kind = "raker"
/// # side = "keepers"
/// # at = [0.5, 0.5]
/// # "#;
/// use yarrick::{Action, Command, SideId, Vec2, When};
///
/// let mut play = Scenario::parse(start)?.play(None)?;
/// let mut world = play.world().clone();
/// let unit = world.units().next().unwrap().id();
/// let action = Action::Move { to: Vec2::new(6.5, 1.5) };
/// world.submit(Command { side: SideId(0), units: vec![unit], action, when: When::Now })?;
///
/// let mut writer = ScriptWriter::default();
/// for _ in 0..100 {
///     let events = world.step().to_vec();
///     writer.note(&world, &events);
/// }
///
/// let again = Scenario::parse(&format!("{start}\n{}", writer.text()))?;
/// let mut play = again.play(None)?;
/// play.run_until(world.time_s(), |_, _| {});
/// assert_eq!(play.world().checksum(), world.checksum());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ScriptWriter {
    text: String,
}

impl ScriptWriter {
    /// Takes down the orders among the events of the tick that the world has just made.
    pub fn note<'a>(&mut self, world: &World, events: impl IntoIterator<Item = &'a Event>) {
        for event in events {
            // Writing to a string cannot fail.
            let _ = self.write(world, event);
        }
    }

    /// The entries so far, as TOML.
    #[must_use]
    pub fn text(&self) -> &str {
        &self.text
    }

    fn write(&mut self, world: &World, event: &Event) -> std::fmt::Result {
        let Event::Ordered {
            side,
            units,
            action,
            when,
            ..
        } = event
        else {
            return Ok(());
        };
        let text = &mut self.text;
        let side = world.sides().get(usize::from(side.0));
        let side = quoted(side.map_or("", |side| side.name.as_str()));
        writeln!(
            text,
            "[[script]]\ntime = {:?}\nside = {side}",
            world.time_s()
        )?;
        writeln!(text, "order = \"{}\"", action.word())?;
        action.write_keys(&mut Keys(text));
        let ids: Vec<String> = units.iter().map(|id| format!("\"{id}\"")).collect();
        writeln!(
            text,
            "ids = [{}]\nwhen = \"{}\"\n",
            ids.join(", "),
            when.word()
        )
    }
}

/// Writes the keys of an order to a text.
struct Keys<'a>(&'a mut String);

impl OrderWriter for Keys<'_> {
    fn key(&mut self, key: &str, value: &str) {
        // Writing to a string cannot fail.
        let _ = writeln!(self.0, "{key} = {value}");
    }
}

/// A text within quotes, as TOML wants it. Names hold no control characters.
fn quoted(text: &str) -> String {
    format!("\"{}\"", text.replace('\\', "\\\\").replace('"', "\\\""))
}
