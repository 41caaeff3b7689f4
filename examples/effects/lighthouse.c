/* SPDX-License-Identifier: MIT */
/* An effect of your own, to begin from. The same file runs on the desk and on a device:
 *
 *   glanz play --watch examples/effects/lighthouse.c examples/effects/rig.json examples/effects/show.json
 *
 * builds it, checks it, plays a show that names it, and builds it anew whenever it is saved: change a line and look. Every
 * other command takes it with --effects. In a firmware it is one more source; a show in C names &harbour_lighthouse, and a
 * program that reads documents has it in its list of effects. */
#include <glanz/effects.h>

/* 1. What can be set, in the order in which `frame->number` has it. Each has a name as documents write it, one line on what it
 *    does, bounds, and what it is when nothing is said. Colours have an order of their own: `frame->color`. */
enum { COLOR, WIDTH, SPEED };

static GLANZ_CONST struct glanz_param params[] = {
    [COLOR] = GLANZ_COLOR_ROW("color", "the beam", GLANZ_KELVIN(4500)),
    [WIDTH] = GLANZ_LENGTH_ROW("width", "from edge to edge", GLANZ_FIXED(1), GLANZ_UNIT_LEDS, GLANZ_FIXED(12)),
    [SPEED] = GLANZ_RATE_ROW("sweeps", GLANZ_UNIT_PASS_TIME, 4000),
};

/* 2. What light is at these places, now? Places are 16.16 LEDs from the start of the segment; the middle of the first LED is at
 *    GLANZ_HALF. The engine moves the phase on: turn[0] is how much of a pass is done, 0 to 2^32 - 1. No time, no state: the
 *    same frame asked again gives the same light. */
static void shade(struct glanz_light *light, const struct glanz_frame *frame, const glanz_place *places, uint8_t count) {
    glanz_place middle = (glanz_place)glanz_mul32_high(frame->turn[0], (uint32_t)frame->length << 16);
    for (uint8_t i = 0; i < count; i++) {
        glanz_place away = places[i] > middle ? places[i] - middle : middle - places[i];
        uint32_t level = 65536u - glanz_ratio((uint32_t)away * 2u, (uint32_t)frame->number[WIDTH]);
        light[i] = glanz_light_scale(frame->color[0], level);
    }
}

/* 3. The effect: these, and its name. */
GLANZ_CONST struct glanz_effect harbour_lighthouse = {
    .version = GLANZ_EFFECT_VERSION,
    .name = "lighthouse",
    .description = GLANZ_DESCRIPTION("a beam that sweeps along the line; a pass is one sweep"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .shade = shade};

/* 4. For the desk: what this file has. Nothing of it is left in a firmware. */
GLANZ_EFFECTS_SHARED(&harbour_lighthouse);
