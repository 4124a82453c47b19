import stdGammaQuantile from "@stdlib/stats-base-dists-gamma-quantile";
import { standardNormal } from "./standardNormal.ts";
import { ln } from "../numeric/elementary.ts";

/** Shapes from which the expansion below is exact; the package's own fails from some 900 on. */
const LARGE = 500;

/**
 * The quantile of a gamma variable of scale 1 whose shape changes from draw to draw. For large shapes by the expansion
 * about the normal quantile of Temme (1992; Gil, Segura and Temme 2012): exact to about 1e-11 there.
 */
export function gammaQuantile(u: number, shape: number): number {
  if (shape < LARGE) return stdGammaQuantile(u, shape, 1);
  const h = standardNormal(u) / Math.sqrt(shape);
  const e1 =
    -1 / 3 +
    h * (1 / 36 + h * (1 / 1620 + h * (-7 / 6480 + h * (5 / 18144 + h * (-11 / 382725 - (h * 101) / 16329600)))));
  const e2 =
    -7 / 405 +
    h * (-7 / 2592 + h * (533 / 204120 + h * (-1579 / 2099520 + h * (109 / 1749600 + (h * 10217) / 251942400))));
  const e3 = 449 / 102060 + h * (-63149 / 20995200 + h * (29233 / 36741600 + (h * 346793) / 5290790400));
  const eta = h + (e1 + (e2 + e3 / shape) / shape) / shape;
  let lambda = 1 + eta * (1 + eta * (1 / 3 + eta * (1 / 36 + eta * (-1 / 270 + eta * (1 / 4320 + eta / 17010)))));
  // Where eta is small the series is exact, and Newton's method would only lose digits.
  if (Math.abs(eta) > 0.02)
    for (let i = 0; i < 2; i++) lambda -= ((lambda - 1 - ln(lambda) - (eta * eta) / 2) * lambda) / (lambda - 1);
  return shape * lambda;
}
