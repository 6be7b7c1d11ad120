//! Pictures of a play with what was asked for of the motions in it.

use crate::arguments::Reveal;
use crate::failure::Failure;
use yarrick::Scenario;
use yarrick::scenario::Play;
use yarrick_draw::{Motions, Scene, Sheet, Size, Subject};

impl Reveal {
    /// Lays out a picture of a play as it is now.
    pub(crate) fn sheet(
        &self,
        scenario: &Scenario,
        play: &Play,
        size: Size,
    ) -> Result<Sheet, Failure> {
        let world = play.world();
        let subjects: Result<Vec<Subject>, Failure> =
            self.forces.iter().map(|who| subject(play, who)).collect();
        let scene = Scene {
            hands: play.hands(),
            motions: Motions {
                velocities: self.velocities,
                forces: &subjects?,
            },
            ..Scene::of(&scenario.title, world)
        };
        Ok(scene.draw(size))
    }
}

/// The unit or the member of a flock that a text names: `wagon`, `rakers/3`, `7v1` or `dunlins/12`.
fn subject(play: &Play, who: &str) -> Result<Subject, Failure> {
    let world = play.world();
    if let Some(unit) = play.unit_named(who) {
        return Ok(Subject::Unit(unit));
    }
    let Some((name, number)) = who.rsplit_once('/') else {
        let unit = who.parse();
        return unit.map(Subject::Unit).map_err(|error| {
            Failure::Usage(format!(
                "--forces: {who:?} is neither the name nor the id of a unit ({error}), nor FLOCK/NUMBER"
            ))
        });
    };
    let Some((id, _, flock)) = world.flocks().find(|(_, known, _)| *known == name) else {
        let known: Vec<&str> = world.flocks().map(|(_, name, _)| name).collect();
        let known = if known.is_empty() {
            "it has none".to_owned()
        } else {
            format!("there is {}", known.join(", "))
        };
        return Err(Failure::Usage(format!(
            "--forces: the scenario has no flock {name:?}; {known}"
        )));
    };
    let member = number.parse().ok().and_then(|nth| flock.members().nth(nth));
    member
        .map(|member| Subject::Member(id, member.id))
        .ok_or_else(|| {
            let last = flock.len().saturating_sub(1);
            Failure::Usage(format!(
                "--forces: {name:?} has members 0 to {last}, not {number:?}"
            ))
        })
}
