//! First touches against dense samples of the step.

use proptest::prelude::*;
use yarrick::geom::{Block, Vec2, first_touch_of_block, first_touch_of_disc};

const SAMPLES: usize = 4000;

/// The distances to a shape along a step.
fn along(from: Vec2, step: Vec2, distance: impl Fn(Vec2) -> f32) -> Vec<f32> {
    let part = |k: usize| k as f32 / SAMPLES as f32;
    (0..=SAMPLES)
        .map(|k| distance(from + step * part(k)))
        .collect()
}

/// Whether a first touch agrees with samples: it touches there, and nowhere before.
fn agrees(found: Option<f32>, samples: &[f32], length: f32) -> Result<(), TestCaseError> {
    let between = length / SAMPLES as f32 + 1e-4;
    let first = samples.iter().position(|distance| *distance <= 0.0);
    match (found, first) {
        (Some(part), _) => {
            let at = (part * SAMPLES as f32) as usize;
            prop_assert!(samples[at] <= 2.0 * between, "{part}: {}", samples[at]);
            prop_assert!(first.is_none_or(|first| at <= first + 1), "{at} {first:?}");
            prop_assert!(first.is_some() || samples.iter().any(|gap| *gap <= between));
        }
        (None, Some(first)) => prop_assert!(false, "it touches after {first}"),
        (None, None) => {}
    }
    Ok(())
}

proptest! {
    #[test]
    fn a_disc_is_touched_where_samples_first_touch_it(
        from in (-6.0_f32..6.0, -6.0_f32..6.0), step in (-15.0_f32..15.0, -15.0_f32..15.0),
        centre in (-6.0_f32..6.0, -6.0_f32..6.0), radius in 0.05_f32..4.0,
    ) {
        let (from, step, centre) = (Vec2::from(from), Vec2::from(step), Vec2::from(centre));
        let samples = along(from, step, |at| at.distance(centre) - radius);
        agrees(first_touch_of_disc(from, step, centre, radius), &samples, step.length())?;
    }

    #[test]
    fn a_box_is_touched_where_samples_first_touch_it(
        from in (-6.0_f32..6.0, -6.0_f32..6.0), step in (-15.0_f32..15.0, -15.0_f32..15.0),
        centre in (-6.0_f32..6.0, -6.0_f32..6.0), half in (0.05_f32..4.0, 0.05_f32..4.0),
        facing in -7.0_f32..7.0,
    ) {
        let (from, step) = (Vec2::from(from), Vec2::from(step));
        let block = Block { centre: centre.into(), half: half.into(), facing };
        let samples = along(from, step, |at| block.distance(at));
        agrees(first_touch_of_block(from, step, &block), &samples, step.length())?;
    }
}

#[test]
fn points_that_stand_touch_only_what_they_are_in() {
    let (centre, still) = (Vec2::new(3.0, 0.0), Vec2::ZERO);
    assert_eq!(
        first_touch_of_disc(Vec2::new(2.5, 0.0), still, centre, 1.0),
        Some(0.0)
    );
    assert_eq!(first_touch_of_disc(Vec2::ZERO, still, centre, 1.0), None);
    let block = Block {
        centre,
        half: Vec2::ONE,
        facing: 0.0,
    };
    assert_eq!(
        first_touch_of_block(Vec2::new(2.5, 0.0), still, &block),
        Some(0.0)
    );
    assert_eq!(first_touch_of_block(Vec2::ZERO, still, &block), None);
    assert_eq!(first_touch_of_disc(Vec2::NAN, still, centre, 1.0), None);
}
