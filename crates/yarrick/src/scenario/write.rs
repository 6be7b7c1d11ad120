//! Writing what a live world has back into a scenario: what was ordered as script entries, kinds as entries of theirs.

use crate::combat::Weapon;
use crate::economy::ResourceId;
use crate::world::{
    DrillUse, Event, Kind, KindId, Number, OrderWriter, Property, Sort, World, WorldSetup,
};
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
/// let action = Action::move_to(Vec2::new(6.5, 1.5));
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
        action.write_keys(&mut Keys {
            text,
            kinds: world.kinds(),
        });
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
struct Keys<'a> {
    text: &'a mut String,
    kinds: &'a [Kind],
}

impl OrderWriter for Keys<'_> {
    fn key(&mut self, key: &str, value: &str) {
        // Writing to a string cannot fail.
        let _ = writeln!(self.text, "{key} = {value}");
    }

    fn kind(&mut self, kind: KindId) {
        let known = self.kinds.get(usize::from(kind.0));
        let name = quoted(known.map_or("", |kind| kind.name.as_str()));
        self.key("kind", &name);
    }
}

/// A text within quotes, as TOML wants it. Names hold no control characters.
fn quoted(text: &str) -> String {
    format!("\"{}\"", text.replace('\\', "\\\\").replace('"', "\\\""))
}

/// A kind as a `[[kind]]` entry of a scenario file, with every property that it has.
///
/// Read again, with the gaits, kinds and resources of the setup, it is the same kind to the last bit.
///
/// ```
/// use yarrick::combat::Weapon;
/// use yarrick::{Ground, Kind, Terrain, WorldSetup, scenario};
///
/// let ground = Ground::from_rows(1.0, &["..."], &[('.', Terrain::open("sand"))])?;
/// let sling = Weapon { range_m: 6.0, damage: 3.0, ..Weapon::PLAIN };
/// let setup = WorldSetup::on(ground);
/// let text = scenario::kind_entry(&Kind::walker("slinger", 0.35, 1.9).armed(sling), &setup);
/// assert!(text.contains("weapon = { range = 6, damage = 3, cooldown = 1, "));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn kind_entry(kind: &Kind, setup: &WorldSetup) -> String {
    let mut text = format!("[[kind]]\nname = {}\n", quoted(&kind.name));
    for property in Kind::properties() {
        if let Some(value) = value_of(property, kind, setup) {
            // Writing to a string cannot fail.
            let _ = writeln!(text, "{} = {value}", property.key);
        }
    }
    text
}

/// The value of a property as TOML, if the kind has it.
fn value_of<T: Clone>(property: &Property<T>, of: &T, setup: &WorldSetup) -> Option<String> {
    Some(match &property.sort {
        Sort::Number(number) | Sort::Count(number) => decimal(number, of)?,
        Sort::Amounts(access) => {
            let price = (access.get)(of)?;
            let amounts = price.amounts().iter();
            let part = |(resource, amount): &(ResourceId, u32)| {
                let name = setup.resources.get(usize::from(resource.0))?;
                Some(format!("{} = {amount}", quoted(name)))
            };
            let parts: Vec<String> = amounts.filter_map(part).collect();
            format!("{{ {} }}", parts.join(", "))
        }
        Sort::Resource(access) => {
            let resource = (access.get)(of)?;
            quoted(setup.resources.get(usize::from(resource.0))?)
        }
        Sort::Drills(access) => {
            let drills = (access.get)(of);
            let named = drills
                .iter()
                .filter_map(|used| setup.program.drills.get(usize::from(used.drill)));
            let names: Vec<String> = named.map(|drill| quoted(&drill.name)).collect();
            format!("[{}]", names.join(", "))
        }
        Sort::Dials(access) => dials(&(access.get)(of), setup),
        Sort::Kinds(access) => {
            let kinds = (access.get)(of)?;
            let named = kinds
                .iter()
                .filter_map(|kind| setup.kinds.get(usize::from(kind.0)));
            let names: Vec<String> = named.map(|kind| quoted(&kind.name)).collect();
            format!("[{}]", names.join(", "))
        }
        Sort::Pair(access, ..) => {
            let pair = (access.get)(of)?;
            format!("[{}, {}]", pair.x, pair.y)
        }
        Sort::Word(access, words) => quoted(words.get((access.get)(of))?),
        Sort::Glyph(access) => quoted((access.get)(of).encode_utf8(&mut [0; 4])),
        Sort::Flag(access) => (access.get)(of).to_string(),
        Sort::Gait(access) => {
            let gait = setup.ground.gaits().get(usize::from((access.get)(of).0))?;
            quoted(&gait.name)
        }
        Sort::Weapon(access, parts) => match (access.get)(of) {
            Some(weapon) => table(parts, &weapon, setup),
            None => "false".to_owned(),
        },
    })
}

/// The dials that are set of some drills, as a table of TOML.
fn dials(drills: &[DrillUse], setup: &WorldSetup) -> String {
    let set = drills.iter().flat_map(|used| {
        let drill = setup.program.drills.get(usize::from(used.drill));
        used.dials.iter().filter_map(move |(dial, value)| {
            let dial = drill?.dials.get(usize::from(*dial))?;
            Some(format!("{} = {}", dial.name, dial.unit.of_base(*value)))
        })
    });
    let set: Vec<String> = set.collect();
    format!("{{ {} }}", set.join(", "))
}

/// A weapon as a table of TOML.
fn table(parts: &[Property<Weapon>], weapon: &Weapon, setup: &WorldSetup) -> String {
    let part = |part: &Property<Weapon>| {
        let value = value_of(part, weapon, setup)?;
        Some(format!("{} = {value}", part.key))
    };
    let parts: Vec<String> = parts.iter().filter_map(part).collect();
    format!("{{ {} }}", parts.join(", "))
}

/// The shortest decimal that is read as the same value.
fn decimal<T: Clone>(number: &Number<T>, of: &T) -> Option<String> {
    let value = (number.get)(of)?;
    let short = (value as f32).to_string();
    let mut again = of.clone();
    (number.set)(&mut again, short.parse().ok()?);
    let is_same = (number.get)(&again) == Some(value);
    Some(if is_same { short } else { value.to_string() })
}
