//! Tests of the random streams.

use yarrick::rng::Stream;

#[test]
fn the_numbers_of_a_stream_never_change() {
    let mut stream = Stream::new(7, "scatter");
    let drawn: Vec<u32> = (0..4).map(|_| stream.below(1000)).collect();
    assert_eq!(drawn, [246, 96, 918, 95]);
}

#[test]
fn every_value_below_the_bound_comes_about_equally_often() {
    let mut stream = Stream::new(1, "dice");
    let mut seen = [0_u32; 6];
    for _ in 0..60_000 {
        seen[stream.below(6) as usize] += 1;
    }
    assert!(seen.iter().all(|n| (9_500..10_500).contains(n)), "{seen:?}");
    assert_eq!(stream.below(0), 0);
}
