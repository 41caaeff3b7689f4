/* SPDX-License-Identifier: MIT */
/* Gradients: exact stops in linear light. What must be even to the eye gets more stops when it is built, so that asking
 * is one short search and one mix, whatever the gradient. */
#include <glanz/color.h>

/* ---- what is not straight in light, in pieces that are ---- */

#define NEAR 370 /* how far a piece may be off, code values in 8.8: 1.45 */

struct gap { /* between two chosen stops */
    struct glanz_light from, to;
    struct glanz_even even;
    uint8_t between; /* enum glanz_between */
    uint16_t distance;
};

static uint16_t code_mix(uint16_t a, uint16_t b, uint32_t f) {
    return glanz_linear_fine(glanz_mix16(glanz_coded_fine(a), glanz_coded_fine(b), f));
}

/* @param f 0 to 65536. */
static struct glanz_light gap_at(const struct gap *gap, uint32_t f) {
    if (f == 0 || f == 65536u) {
        return f == 0 ? gap->from : gap->to;
    }
    if (gap->between == GLANZ_BETWEEN_EVEN) {
        return glanz_even_at(&gap->even, f);
    }
    struct glanz_light light = {code_mix(gap->from.red, gap->to.red, f), code_mix(gap->from.green, gap->to.green, f),
                                code_mix(gap->from.blue, gap->to.blue, f)};
    return light;
}

static uint16_t apart(uint16_t a, uint16_t b) {
    uint16_t one = glanz_coded_fine(a);
    uint16_t other = glanz_coded_fine(b);
    return one > other ? (uint16_t)(one - other) : (uint16_t)(other - one);
}

/* Is a straight line from one place to another near enough, at its quarters? */
static int is_near(const struct gap *gap, uint32_t begin, uint32_t end, uint32_t near) {
    struct glanz_light a = gap_at(gap, begin);
    struct glanz_light b = gap_at(gap, end);
    for (uint32_t quarter = 1; quarter < 4; quarter++) {
        struct glanz_light wanted = gap_at(gap, begin + (end - begin) * quarter / 4u);
        struct glanz_light straight = glanz_light_mix(a, b, quarter << 14);
        if (apart(wanted.red, straight.red) > near || apart(wanted.green, straight.green) > near ||
            apart(wanted.blue, straight.blue) > near) {
            return 0;
        }
    }
    return 1;
}

/* Stops within a gap, halved where a piece is not near enough. @param most stops that there is room for.
 * @return how many; `most` + 1: they would be more. */
static uint16_t add_within(struct glanz_stop *stops, const struct gap *gap, uint16_t at, uint32_t near, uint16_t most) {
    uint32_t ends[14]; /* of the piece, and of those that it was halved from */
    uint8_t depth = 1;
    uint16_t count = 0;
    uint32_t begin = 0;
    ends[0] = 65536u;
    while (depth != 0) {
        uint32_t end = ends[depth - 1u];
        if (depth < 13 && (((uint32_t)gap->distance * ((end - begin) >> 1)) >> 16) > 1u && !is_near(gap, begin, end, near)) {
            ends[depth++] = (begin + end) >> 1;
            continue;
        }
        if (end != 65536u) {
            if (count >= most) {
                return (uint16_t)(most + 1u);
            }
            stops[count].at = (uint16_t)(at + (((uint32_t)gap->distance * end) >> 16));
            stops[count++].light = gap_at(gap, end);
        }
        begin = end;
        depth--;
    }
    return count;
}

/* From the last stop to another light: as many stops as it takes to be near enough, as near as there is room for. */
static uint16_t add_pieces(struct glanz_stop *stops, struct glanz_light to, uint16_t to_at, uint8_t between, uint16_t most) {
    struct gap gap = {stops->light, to, {{0, 0, 0}, {0, 0, 0}}, between, (uint16_t)(to_at - stops->at)};
    uint16_t count;
    uint32_t near = NEAR;
    glanz_even_begin(&gap.even, gap.from, to);
    do {
        count = add_within(stops + 1, &gap, stops->at, near, most);
        near += near / 8u;
    } while (count > most);
    return count;
}

void glanz_gradient_index(struct glanz_gradient *gradient, struct glanz_stop *stops, uint16_t count) {
    for (uint16_t i = 0; i < count; i++) {
        uint16_t distance = i + 1 < count ? (uint16_t)(stops[i + 1].at - stops[i].at) : 0;
        stops[i].per = distance == 0 || gradient->bands ? 0 : 0xFFFFFFFFu / distance; /* 0: one light up to the next stop */
    }
    uint16_t stop = 0;
    for (uint16_t cell = 0; cell < 16; cell++) {
        while (stop + 1 < count && stops[stop + 1].at <= (cell << 12)) {
            stop++;
        }
        gradient->first[cell] = (uint8_t)stop;
    }
    gradient->stops = stops;
    gradient->count = count;
}

glanz_status glanz_gradient_build(struct glanz_gradient *gradient, struct glanz_stop *stops, uint16_t stop_capacity,
                                  const struct glanz_color_stop *chosen, uint16_t chosen_count, enum glanz_between between,
                                  GLANZ_CONST struct glanz_named_color *names, uint16_t name_count) {
    if (gradient == NULL || stops == NULL || chosen == NULL || chosen_count == 0 || chosen_count > 64 ||
        (unsigned)between > GLANZ_BETWEEN_CODES) {
        return GLANZ_ERR_ARGUMENT;
    }
    uint16_t count = 0;
#if GLANZ_FIELDS
    gradient->runs = GLANZ_RUNS_BY_EFFECT;
    gradient->folded = 0;
    gradient->reversed = 0;
    gradient->span = 0;
    gradient->pass_ms = 0;
#endif
    for (uint16_t i = 0; i < chosen_count; i++) {
        if (i > 0 && chosen[i].at < chosen[i - 1].at) {
            return GLANZ_ERR_ARGUMENT;
        }
        struct glanz_light light = glanz_color_light(chosen[i].color, names, name_count);
        if (i > 0 && (between == GLANZ_BETWEEN_EVEN || between == GLANZ_BETWEEN_CODES)) {
            /* never more stops than there is room for those that must come, and each gap its share */
            uint16_t most = (uint16_t)((GLANZ_STOPS_MOST - count - (chosen_count - i)) / (chosen_count - i));
            most = most > GLANZ_STOPS_EACH - 1 ? GLANZ_STOPS_EACH - 1 : most;
            if ((uint32_t)count + most + 1u > stop_capacity) {
                return GLANZ_ERR_MEMORY;
            }
            count = (uint16_t)(count + add_pieces(&stops[count - 1u], light, chosen[i].at, (uint8_t)between, most));
        }
        if (count >= stop_capacity) {
            return GLANZ_ERR_MEMORY;
        }
        stops[count].at = chosen[i].at;
        if (between == GLANZ_BETWEEN_BANDS && chosen_count > 1 && chosen[chosen_count - 1u].at == 65535) {
            stops[count].at = (uint16_t)((uint32_t)chosen[i].at * (chosen_count - 1u) / chosen_count);
        }
        stops[count].light = light;
        count++;
    }
    gradient->bands = between == GLANZ_BETWEEN_BANDS;
    glanz_gradient_index(gradient, stops, count);
    return GLANZ_OK;
}

void glanz_gradient_cut(struct glanz_gradient *gradient, struct glanz_stop *stops, uint16_t from, uint16_t to) {
    if (gradient == NULL || stops == NULL || gradient->count == 0 || from >= to) {
        return;
    }
    struct glanz_light first = glanz_gradient_at(gradient, from);
    struct glanz_light last = glanz_gradient_at(gradient, to);
    uint16_t begin = 0; /* the stops that lie within */
    uint16_t count = gradient->count;
    while (begin < count && stops[begin].at <= from) {
        begin++;
    }
    while (count > begin && stops[count - 1u].at >= to) {
        count--;
    }
    count = (uint16_t)(count - begin);
    if (begin == 0) { /* one more in front of them */
        for (uint16_t i = count; i > 0; i--) {
            stops[i] = stops[i - 1u];
        }
    }
    for (uint16_t i = 1; i <= count; i++) {
        stops[i] = begin == 0 ? stops[i] : stops[begin + i - 1u];
        stops[i].at = (uint16_t)((uint32_t)(stops[i].at - from) * 65535u / (uint16_t)(to - from));
    }
    stops[0].at = 0;
    stops[0].light = first;
    count++;
    if (!gradient->bands) {
        stops[count].at = 65535;
        stops[count].light = last;
        count++;
    }
    glanz_gradient_index(gradient, stops, count);
}

void glanz_gradient_run(struct glanz_light *light, GLANZ_CONST struct glanz_gradient *gradient, const uint16_t *positions,
                        uint8_t count) {
    const uint16_t *end = positions + count;
    while (positions != end) { /* a part of the gradient over which its light is straight */
        uint32_t into = *positions;
        GLANZ_CONST struct glanz_stop *stop = &gradient->stops[gradient->first[into >> 12]];
        GLANZ_CONST struct glanz_stop *last = &gradient->stops[gradient->count - 1];
        while (stop < last && stop[1].at <= into) {
            stop++;
        }
        uint32_t at = stop->at;
        uint32_t width = (stop < last ? stop[1].at : 65536u) - at; /* positions from `at` on */
        uint32_t per = stop->per >> 1;
        if (into < at) { /* before the first stop */
            width = at;
            at = 0;
            per = 0;
        }
        GLANZ_CONST struct glanz_stop *to = stop + (per != 0);
        const struct glanz_pair pair = glanz_pair_of(stop->light, to->light); /* in registers, as far as there are any */
        into -= at;
        do {
            glanz_pair_mix(light, &pair, (into * per) >> 15);
            light++;
            positions++;
        } while (positions != end && (into = *positions - at) < width);
    }
}

struct glanz_light glanz_gradient_at(GLANZ_CONST struct glanz_gradient *gradient, uint16_t position) {
    uint16_t i = gradient->first[position >> 12];
    GLANZ_CONST struct glanz_stop *stop = &gradient->stops[i];
    while (i + 1 < gradient->count && stop[1].at <= position) {
        i++;
        stop++;
    }
    struct glanz_light light;
    uint32_t part = 0;
    GLANZ_CONST struct glanz_stop *next = stop;
    if (!gradient->bands && i + 1 < gradient->count && position > stop->at) {
        part = ((uint32_t)(position - stop->at) * (stop->per >> 1)) >> 15; /* 16 bits of fraction */
        next = stop + 1;
    }
    light.red = glanz_mix16(stop->light.red, next->light.red, part);
    light.green = glanz_mix16(stop->light.green, next->light.green, part);
    light.blue = glanz_mix16(stop->light.blue, next->light.blue, part);
    return light;
}

/* Ready palettes. Our own choices, named for what one sees at a harbour. */
#define AT(percent) ((uint16_t)((percent)*65535ul / 100))
#define PALETTE(id, ...) static GLANZ_CONST struct glanz_color_stop id[] = {__VA_ARGS__}

PALETTE(full_circle, {AT(0), GLANZ_HSL(0, 100, 50)}, {AT(17), GLANZ_HSL(60, 100, 50)}, {AT(33), GLANZ_HSL(120, 100, 50)},
        {AT(50), GLANZ_HSL(180, 100, 50)}, {AT(67), GLANZ_HSL(240, 100, 50)}, {AT(83), GLANZ_HSL(300, 100, 50)},
        {AT(100), GLANZ_HSL(0, 100, 50)});
PALETTE(low_tide, {AT(0), GLANZ_RGB(0x10, 0x1A, 0x20)}, {AT(40), GLANZ_RGB(0x4A, 0x5D, 0x52)},
        {AT(70), GLANZ_RGB(0xB7, 0xA0, 0x78)}, {AT(100), GLANZ_RGB(0xF2, 0xE6, 0xC8)});
PALETTE(net_floats, {AT(0), GLANZ_RGB(0xE8, 0x4A, 0x1C)}, {AT(33), GLANZ_RGB(0xF4, 0xC4, 0x30)},
        {AT(66), GLANZ_RGB(0x1C, 0x8F, 0x6A)}, {AT(100), GLANZ_RGB(0x1E, 0x4F, 0x9C)});
PALETTE(engine_room, {AT(0), GLANZ_RGB(0x05, 0x00, 0x00)}, {AT(35), GLANZ_RGB(0x8A, 0x12, 0x00)},
        {AT(70), GLANZ_RGB(0xFF, 0x6A, 0x00)}, {AT(100), GLANZ_RGB(0xFF, 0xE0, 0x9A)});
PALETTE(ice_floe, {AT(0), GLANZ_RGB(0x02, 0x0B, 0x1E)}, {AT(50), GLANZ_RGB(0x2B, 0x7F, 0xB8)},
        {AT(80), GLANZ_RGB(0xA6, 0xE1, 0xEF)}, {AT(100), GLANZ_RGB(0xFF, 0xFF, 0xFF)});
PALETTE(oil_film, {AT(0), GLANZ_RGB(0x3B, 0x0F, 0x5C)}, {AT(30), GLANZ_RGB(0x12, 0x6E, 0x82)},
        {AT(55), GLANZ_RGB(0x7F, 0xB0, 0x2A)}, {AT(80), GLANZ_RGB(0xC8, 0x4B, 0x7A)}, {AT(100), GLANZ_RGB(0x3B, 0x0F, 0x5C)});
PALETTE(kelp, {AT(0), GLANZ_RGB(0x04, 0x14, 0x0A)}, {AT(35), GLANZ_RGB(0x0F, 0x4A, 0x1C)},
        {AT(70), GLANZ_RGB(0x4F, 0x9A, 0x1F)}, {AT(100), GLANZ_RGB(0xC9, 0xE2, 0x65)});
PALETTE(lamp_oil, {AT(0), GLANZ_RGB(0x00, 0x00, 0x00)}, {AT(30), GLANZ_RGB(0x5A, 0x1E, 0x00)},
        {AT(65), GLANZ_RGB(0xF0, 0x8A, 0x1C)}, {AT(100), GLANZ_RGB(0xFF, 0xE2, 0xB0)});
PALETTE(night_watch, {AT(0), GLANZ_RGB(0x10, 0x00, 0x00)}, {AT(50), GLANZ_RGB(0x6E, 0x0A, 0x04)},
        {AT(100), GLANZ_RGB(0xD8, 0x32, 0x0A)});
PALETTE(slipway, {AT(0), GLANZ_RGB(0x1B, 0x12, 0x38)}, {AT(30), GLANZ_RGB(0x7A, 0x2F, 0x6B)},
        {AT(60), GLANZ_RGB(0xE5, 0x6B, 0x5C)}, {AT(82), GLANZ_RGB(0xF9, 0xB3, 0x6B)}, {AT(100), GLANZ_RGB(0xFF, 0xE9, 0xB8)});
PALETTE(copper_roof, {AT(0), GLANZ_RGB(0x2E, 0x12, 0x06)}, {AT(30), GLANZ_RGB(0xB4, 0x5A, 0x24)},
        {AT(55), GLANZ_RGB(0xE3, 0xA0, 0x6A)}, {AT(78), GLANZ_RGB(0x4A, 0xA5, 0x8A)}, {AT(100), GLANZ_RGB(0x0F, 0x5A, 0x4C)});
PALETTE(storm_front, {AT(0), GLANZ_RGB(0x05, 0x07, 0x0C)}, {AT(45), GLANZ_RGB(0x22, 0x38, 0x4E)},
        {AT(80), GLANZ_RGB(0x6F, 0x8F, 0xA6)}, {AT(100), GLANZ_RGB(0xEE, 0xF6, 0xFF)});
PALETTE(mussel_shell, {AT(0), GLANZ_RGB(0x05, 0x05, 0x0F)}, {AT(35), GLANZ_RGB(0x23, 0x27, 0x5E)},
        {AT(65), GLANZ_RGB(0x6A, 0x5A, 0x9C)}, {AT(85), GLANZ_RGB(0xB9, 0xA7, 0xCF)}, {AT(100), GLANZ_RGB(0xFF, 0xF2, 0xE6)});
PALETTE(shrimp_boat, {AT(0), GLANZ_RGB(0xD9, 0x27, 0x5A)}, {AT(35), GLANZ_RGB(0xFF, 0x7A, 0x5C)},
        {AT(65), GLANZ_RGB(0xFF, 0xD9, 0xA8)}, {AT(100), GLANZ_RGB(0x54, 0xB6, 0xD9)});
PALETTE(deep_dive, {AT(0), GLANZ_RGB(0x00, 0x01, 0x05)}, {AT(30), GLANZ_RGB(0x00, 0x1F, 0x3F)},
        {AT(60), GLANZ_RGB(0x00, 0x6B, 0x7A)}, {AT(85), GLANZ_RGB(0x3F, 0xC1, 0xB0)}, {AT(100), GLANZ_RGB(0xD8, 0xFF, 0xF0)});
PALETTE(oilskin, {AT(0), GLANZ_RGB(0x1A, 0x10, 0x00)}, {AT(25), GLANZ_RGB(0xB8, 0x7A, 0x00)},
        {AT(60), GLANZ_RGB(0xFF, 0xC4, 0x00)}, {AT(100), GLANZ_RGB(0xFF, 0xF3, 0xA0)});
PALETTE(plankton, {AT(0), GLANZ_RGB(0x00, 0x00, 0x04)}, {AT(40), GLANZ_RGB(0x00, 0x32, 0xA0)},
        {AT(75), GLANZ_RGB(0x00, 0xC8, 0xB4)}, {AT(100), GLANZ_RGB(0xC8, 0xFF, 0xD2)});
PALETTE(rusty_hull, {AT(0), GLANZ_RGB(0x1C, 0x0A, 0x06)}, {AT(35), GLANZ_RGB(0x7A, 0x2E, 0x14)},
        {AT(60), GLANZ_RGB(0xC4, 0x51, 0x2A)}, {AT(80), GLANZ_RGB(0x8A, 0x8F, 0x94)}, {AT(100), GLANZ_RGB(0xD7, 0xDD, 0xE0)});
PALETTE(heather, {AT(0), GLANZ_RGB(0x24, 0x10, 0x2E)}, {AT(35), GLANZ_RGB(0x7B, 0x3B, 0x82)},
        {AT(60), GLANZ_RGB(0xC3, 0x8A, 0xB8)}, {AT(80), GLANZ_RGB(0x8A, 0x9A, 0x4A)}, {AT(100), GLANZ_RGB(0xE8, 0xDC, 0xA0)});
PALETTE(fairway, {AT(0), GLANZ_RGB(0xC8, 0x10, 0x2E)}, {AT(33), GLANZ_RGB(0xFF, 0xF4, 0xDC)},
        {AT(67), GLANZ_RGB(0x00, 0x84, 0x3D)});

#define ENTRY(name, what, id) BETWEEN(name, what, id, GLANZ_BETWEEN_EVEN)
#define BETWEEN(name, what, id, between)                                                                                       \
    { GLANZ_TEXT(name), GLANZ_DESCRIPTION(what), id, sizeof id / sizeof id[0], between }
GLANZ_CONST struct glanz_palette glanz_palettes[] = {
    ENTRY("full circle", "every hue, once round; rings, and whatever goes through all colours", full_circle),
    ENTRY("low tide", "mud, weed, sand, foam; calm light in a room", low_tide),
    ENTRY("net floats", "orange, yellow, green, blue; bars and marbles", net_floats),
    ENTRY("engine room", "black through red heat to pale yellow; fire and embers", engine_room),
    ENTRY("ice floe", "deep water to white ice; snow, rain, clouds", ice_floe),
    ENTRY("oil film", "violet, teal, green, pink, closed in itself; round rings", oil_film),
    ENTRY("kelp", "dark green to lime; water weed, slow waves", kelp),
    ENTRY("lamp oil", "black through amber to warm white; beams, comets, candle light", lamp_oil),
    ENTRY("night watch", "dim reds that spare the eye at night", night_watch),
    ENTRY("slipway at dawn", "violet, rose, peach, pale gold; slow flows and clouds", slipway),
    ENTRY("copper roof", "copper and its green; rings and ropes", copper_roof),
    ENTRY("storm front", "slate, blue-grey, a pale flash; fog and rain", storm_front),
    ENTRY("mussel shell", "blue black, violet, pearl; twinkles and ripples", mussel_shell),
    ENTRY("shrimp boat", "pink, salmon, cream, sky; bright and friendly", shrimp_boat),
    ENTRY("deep dive", "light surface to black water; columns and tides", deep_dive),
    ENTRY("oilskin", "yellows with a dark seam; bars and processions", oilskin),
    ENTRY("plankton", "black, blue glow, green glow; points on dark water", plankton),
    ENTRY("rusty hull", "rust, red lead, grey paint; textures that move slowly", rusty_hull),
    ENTRY("heather", "purple, mauve, moss, straw; long soft gradients", heather),
    BETWEEN("fairway", "hard bands of red, white and green; bars, patterns, marks", fairway, GLANZ_BETWEEN_BANDS)};
const uint8_t glanz_palette_count = sizeof glanz_palettes / sizeof glanz_palettes[0];

/* The gradient of looks that name none: deep water to foam, straight in light. */
static GLANZ_CONST struct glanz_stop standard_stops[] = {{0, {40, 236, 1450}, 65537}, {65535, {42000, 55000, 60000}, 0}};
GLANZ_CONST struct glanz_gradient glanz_gradient_standard = {.stops = standard_stops, .count = 2, .first = {0}};
