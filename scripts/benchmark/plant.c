/* The servo plant of core/plant, for comparison: the same numbers in the same order. Takes the stretches of acceleration
   towards plus, a “/”, and those towards minus; prints nanoseconds a step and a check sum. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <time.h>

typedef struct {
  double dt, gn, gd, cpr, cprad, spc, motor_step, jm, jl, k, c, viscous, gravity, limit, torque_share,
      kp, kv, ki, ff, af, ashare, tfs, b0, b1, b2, a1, a2, filter, window, minus, plus, index;
  double plus_stretches[32], minus_stretches[32];
  int elastic, filtered;
} C;
typedef struct {
  double enabled, tripped, rem, demand, demand_speed, demand_acc, actual, actual_speed, integral, n1, n2, ft, torque, ma, ms, la, ls, minus_on,
      plus_on, pulses, index_counts, work, heat, turn_start, turn_end;
} S;

static inline double gain(const double *stretches, double torque) {
  while (torque > *stretches) stretches += 3;
  return (torque - stretches[1]) * stretches[2];
}
static inline double speed_after(const C *c, double before, double torque) {
  if (before == 0) {
    double up = gain(c->plus_stretches, torque);
    if (up > 0) return up;
    double down = gain(c->minus_stretches, torque);
    return down < 0 ? down : 0;
  }
  double step = gain(before > 0 ? c->plus_stretches : c->minus_stretches, torque);
  double after = before + step;
  if (before > 0 ? after >= 0 : after <= 0) return after;
  double turned = after / step * gain(before > 0 ? c->minus_stretches : c->plus_stretches, torque);
  return before > 0 ? (turned < 0 ? turned : 0) : (turned > 0 ? turned : 0);
}
static inline void rigid(const C *c, S *s, double torque) {
  double before = s->ms;
  double after = speed_after(c, before, torque - c->viscous * before);
  double mean = 0.5 * (before + after);
  s->work += torque * mean * c->dt;
  s->heat += ((torque - c->gravity) * c->dt - c->jm * (after - before)) * mean;
  double angle = s->ma + after * c->dt;
  s->ms = after; s->ls = after; s->ma = angle; s->la = angle;
}
static inline void elastic(const C *c, S *s, double torque) {
  double slip = s->ms - s->ls;
  double coupling = c->k * (s->ma - s->la) + c->c * slip;
  double mb = s->ms, mafter = mb + c->motor_step * (torque - coupling);
  double before = s->ls;
  double after = speed_after(c, before, coupling - c->viscous * before);
  double mm = 0.5 * (mb + mafter), mean = 0.5 * (before + after);
  s->work += torque * mm * c->dt;
  s->heat += ((coupling - c->gravity) * c->dt - c->jl * (after - before)) * mean + c->c * slip * (mm - mean) * c->dt;
  s->ms = mafter; s->ls = after; s->ma += mafter * c->dt; s->la += after * c->dt;
}
static inline void step(const C *c, S *s, double inc) {
  double owed = inc * c->gn + s->rem;
  double counts = floor(owed / c->gd);
  s->rem = owed - counts * c->gd;
  double demand = s->demand + counts;
  double change = c->filter * (counts * c->spc - s->demand_speed);
  double ds = s->demand_speed + change;
  s->demand_speed = ds;
  if (c->af != 0) s->demand_acc += c->ashare * (change / c->dt - s->demand_acc);
  double e = demand - s->actual, td = 0;
  if (s->enabled != 0) {
    s->demand = demand;
    if (fabs(e) > c->window) { s->tripped = 1; s->enabled = 0; }
    else {
      double se = c->kp * e + c->ff * ds - s->actual_speed;
      double w = c->kv * se + s->integral + c->af * s->demand_acc;
      if (c->filtered) {
        double n = c->b0 * w + s->n1;
        s->n1 = c->b1 * w - c->a1 * n + s->n2;
        s->n2 = c->b2 * w - c->a2 * n;
        s->ft += c->tfs * (n - s->ft);
        w = s->ft;
      }
      td = w > c->limit ? c->limit : w < -c->limit ? -c->limit : w;
      if (w == td || se * w < 0) s->integral += c->ki * se;
    }
  } else { s->demand = s->actual; s->demand_speed = 0; s->demand_acc = 0; s->integral = 0; s->n1 = 0; s->n2 = 0; s->ft = 0; }
  double torque = s->torque + c->torque_share * (td - s->torque);
  s->torque = torque;
  if (c->elastic) elastic(c, s, torque); else rigid(c, s, torque);
  double a = floor(s->ma * c->cprad), moved = a - s->actual;
  s->actual_speed += c->filter * (moved * c->spc - s->actual_speed);
  if (a < s->turn_start || a >= s->turn_end) {
    double start = floor((a - c->index) / c->cpr) * c->cpr + c->index;
    s->pulses += 1; s->index_counts = start > s->turn_start ? start : s->turn_start; s->turn_start = start; s->turn_end = start + c->cpr;
  }
  s->actual = a;
  double lc = s->la * c->cprad;
  s->minus_on = lc <= c->minus ? 1 : 0;
  s->plus_on = lc >= c->plus ? 1 : 0;
}

int main(int count, char **words) {
  double pi = 3.14159265358979323846, cpr = 1048576, dt = 1.0 / 8000, kv = 260 * 1.6e-4 * 15;
  volatile double gn = 12288;
  double t = tan(600 * dt / 2), whole = 1 + 1.2 * t + t * t, edge = 2 * (t * t - 1) / whole;
  C c = {dt, gn, 125, cpr, cpr / (2 * pi), 2 * pi / cpr / dt, dt / 1.6e-4, 1.6e-4, 2.4e-3, 60, 0.02,
         0.0006, 0.2, 3.585, 1 - exp(-dt / 0.0005), 40 * 2 * pi / cpr, kv, kv * dt / 0.02, 0.85, 0.5 * kv / 260,
         1 - exp(-dt / 0.002), 1 - exp(-dt / 0.0005), (1 + 0.12 * t + t * t) / whole, edge, (1 - 0.12 * t + t * t) / whole, edge,
         (1 - 1.2 * t + t * t) / whole, 1 - exp(-dt / 0.0003), 1e9, -1e15, 1e15, 0, {0}, {0}, 1, 1};
  double *into = c.plus_stretches;
  for (int k = 1; k < count; k++) {
    if (words[k][0] == '/') into = c.minus_stretches;
    else *into++ = strtod(words[k], 0);
  }
  S s = {1};
  s.turn_end = cpr;
  static double command[2][8192];
  for (int k = 0; k < 8192; k++) command[0][k] = k % 25, command[1][k] = -(k % 25);
  double best = 1e9, sum = 0;
  for (int round = 0; round < 800; round++) {
    struct timespec a, b;
    clock_gettime(CLOCK_MONOTONIC, &a);
    for (int k = 0; k < 8192; k++) step(&c, &s, command[round & 1][k]);
    clock_gettime(CLOCK_MONOTONIC, &b);
    double ns = ((b.tv_sec - a.tv_sec) * 1e9 + (b.tv_nsec - a.tv_nsec)) / 8192;
    if (ns < best) best = ns;
    sum += s.actual;
  }
  printf("%.3f %.0f\n", best, sum);
  return 0;
}
