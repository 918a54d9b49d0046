//! Exponentials and logarithms of which no bit depends on the machine or its C library, and normal quantiles.

pub(crate) use libm::{cbrt, exp, log as ln, pow};

/// Standard normal quantile of the ends of an 80 % range.
pub const Z80: f64 = 1.281_552;

/// The value below which a standard normal falls with chance `p`, 0 < p < 1 (Wichura 1988, AS 241, PPND7; relative error
/// 1e-7).
pub(super) fn normal_quantile(p: f64) -> f64 {
    let q = p - 0.5;
    if q.abs() <= 0.425 {
        let r = 0.180_625 - q * q;
        return q * (((5.910_937_4e1 * r + 1.592_911_3e2) * r + 5.043_427_1e1) * r + 3.387_132_7)
            / (((6.718_756_3e1 * r + 7.875_775_7e1) * r + 1.789_516_9e1) * r + 1.0);
    }
    let tail = if q < 0.0 { p } else { 1.0 - p };
    let r = (-ln(tail)).sqrt();
    let z = if r <= 5.0 {
        let r = r - 1.6;
        (((1.702_382_1e-1 * r + 1.306_728_5) * r + 2.756_815_4) * r + 1.423_437_3)
            / ((1.202_113_2e-1 * r + 7.370_016_4e-1) * r + 1.0)
    } else {
        let r = r - 5.0;
        (((1.733_720_4e-2 * r + 4.286_829_3e-1) * r + 3.081_226_4) * r + 6.657_905_1)
            / ((1.225_820_3e-2 * r + 2.419_789_5e-1) * r + 1.0)
    };
    if q < 0.0 { -z } else { z }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn normal_quantiles_are_those_of_the_tables() {
        for (p, z) in [(0.5, 0.0), (0.9, 1.281_551_566), (0.975, 1.959_963_985), (0.999, 3.090_232_306)] {
            assert!((normal_quantile(p) - z).abs() < 1e-6, "{p}: {}", normal_quantile(p));
            assert!((normal_quantile(1.0 - p) + z).abs() < 1e-6);
        }
        assert!((normal_quantile(1e-9) + 5.997_807).abs() < 1e-5);
    }
}
