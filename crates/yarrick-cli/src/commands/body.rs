//! The body that a way is asked for.

use crate::arguments::BodyArgs;
use yarrick::World;
use yarrick::ground::GaitId;

/// A body that needs ways.
#[derive(Clone, Copy)]
pub(crate) struct Walker {
    pub(crate) radius_m: f32,
    pub(crate) gait: GaitId,
}

/// The body that was asked for, by its measures or by the name of a kind.
pub(crate) fn body(world: &World, asked: &BodyArgs) -> Result<Walker, String> {
    const USUAL_M: f32 = 0.4;
    let one_of = |what: &str, name: &str, known: Vec<&str>| {
        format!("there is no {what} {name:?}; there is {}", known.join(", "))
    };
    if let Some(name) = &asked.kind {
        let kinds = world.kinds();
        let known = kinds.iter().find(|kind| kind.name == *name);
        let known = known.map(|kind| Walker {
            radius_m: kind.body.radius_m,
            gait: kind.body.gait,
        });
        let names = || kinds.iter().map(|kind| kind.name.as_str()).collect();
        return known.ok_or_else(|| one_of("kind", name, names()));
    }
    let ground = world.ground();
    let gait = match &asked.gait {
        Some(name) => ground.gait(name).ok_or_else(|| {
            let names = ground.gaits().iter().map(|gait| gait.name.as_str());
            one_of("gait", name, names.collect())
        })?,
        None => GaitId::default(),
    };
    Ok(Walker {
        radius_m: asked.radius.unwrap_or(USUAL_M),
        gait,
    })
}
