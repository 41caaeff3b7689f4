/* SPDX-License-Identifier: MIT */
/* Sea mark: the rhythms by which lights at sea are told apart. IALA Recommendation R0110, "Rhythmic characters of lights on
 * marine aids to navigation"; Morse code by Recommendation ITU-R M.1677-1. */
#include <glanz/effects.h>

#if GLANZ_FIELDS && GLANZ_PARAMS >= 7

enum {
    MARK_FIXED,
    MARK_ISOPHASE,
    MARK_FLASHING,
    MARK_LONG,
    MARK_OCCULTING,
    MARK_QUICK,
    MARK_GROUP_QUICK,
    MARK_QUICK_LONG,
    MARK_MORSE
};
static GLANZ_CONST char *GLANZ_CONST characters[] = {
    GLANZ_TEXT("fixed"),     GLANZ_TEXT("isophase"), GLANZ_TEXT("flashing"),    GLANZ_TEXT("long flashing"),
    GLANZ_TEXT("occulting"), GLANZ_TEXT("quick"),    GLANZ_TEXT("group quick"), GLANZ_TEXT("group quick and a long flash"),
    GLANZ_TEXT("Morse")};
static GLANZ_CONST char *GLANZ_CONST letters[] = {
    GLANZ_TEXT("A"), GLANZ_TEXT("B"), GLANZ_TEXT("C"), GLANZ_TEXT("D"), GLANZ_TEXT("E"), GLANZ_TEXT("F"), GLANZ_TEXT("G"),
    GLANZ_TEXT("H"), GLANZ_TEXT("I"), GLANZ_TEXT("J"), GLANZ_TEXT("K"), GLANZ_TEXT("L"), GLANZ_TEXT("M"), GLANZ_TEXT("N"),
    GLANZ_TEXT("O"), GLANZ_TEXT("P"), GLANZ_TEXT("Q"), GLANZ_TEXT("R"), GLANZ_TEXT("S"), GLANZ_TEXT("T"), GLANZ_TEXT("U"),
    GLANZ_TEXT("V"), GLANZ_TEXT("W"), GLANZ_TEXT("X"), GLANZ_TEXT("Y"), GLANZ_TEXT("Z")};

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_SEA_MARK_COLOR] = GLANZ_COLOR_ROW("color", "the light", GLANZ_RGB(0xFF, 0x30, 0x20)),
    [GLANZ_SEA_MARK_BACKGROUND] = GLANZ_COLOR_ROW("background", "between flashes", GLANZ_RGB(0, 0, 0)),
    [GLANZ_SEA_MARK_CHARACTER] = GLANZ_CHOICE_ROW("character", "its rhythm", characters, MARK_FLASHING),
    [GLANZ_SEA_MARK_GROUP] = GLANZ_PARAM_ROW("group", "flashes of a group, or eclipses of an occulting one", GLANZ_PARAM_COUNT,
                                             GLANZ_UNIT_NONE, 1, 9, 2),
    [GLANZ_SEA_MARK_LETTER] = GLANZ_CHOICE_ROW("letter", "of Morse code", letters, 0),
    [GLANZ_SEA_MARK_SOFT] = GLANZ_SHARE_ROW("soft", "of the shortest flash: how long it takes to light up", GLANZ_PERCENT(30)),
    [GLANZ_SEA_MARK_SPEED] = GLANZ_RATE_ROW("periods", GLANZ_UNIT_PASS_TIME, 8000),
};

/* Dashes as bits from the first sign on, below a 1 that ends them. */
static const GLANZ_FLASH uint8_t signs[26] = {0x06, 0x11, 0x15, 0x09, 0x02, 0x14, 0x0B, 0x10, 0x04, 0x1E, 0x0D, 0x12, 0x07,
                                              0x05, 0x0F, 0x16, 0x1B, 0x0A, 0x08, 0x03, 0x0C, 0x18, 0x0E, 0x19, 0x1D, 0x13};

struct rhythm {
    uint32_t at;    /* in the period, 16.16 units */
    uint32_t soft;  /* 16.16 units */
    uint32_t level; /* 0 to 65536 */
};

/* A flash of so many 16.16 units. */
static void flash(struct rhythm *rhythm, uint32_t from, uint32_t units) {
    if (rhythm->at < from || rhythm->at >= from + units) {
        return;
    }
    uint32_t since = rhythm->at - from;
    uint32_t left = from + units - rhythm->at;
    uint32_t edge = since < left ? since : left;
    rhythm->level = edge >= rhythm->soft ? 65536u : glanz_ratio(edge, rhythm->soft);
}

#define UNITS(count) ((uint32_t)(count) << 16)

/* The signs of a letter, then six units of dark. */
static void morse(struct rhythm *rhythm, uint32_t turn, uint32_t sign) {
    uint32_t units = 6;
    for (uint32_t left = sign; left > 1; left >>= 1) {
        units += (left & 1u) != 0 ? 4 : 2;
    }
    uint32_t from = 0;
    rhythm->at = glanz_mul32_high(turn, UNITS(units));
    for (uint32_t left = sign; left > 1; left >>= 1) {
        uint32_t size = (left & 1u) != 0 ? 3 : 1;
        flash(rhythm, UNITS(from), UNITS(size));
        from += size + 1u;
    }
}

/* So many flashes, `each` units from one to the next. */
static void group(struct rhythm *rhythm, uint32_t turn, uint32_t count, uint32_t each, uint32_t lit, uint32_t units) {
    rhythm->at = glanz_mul32_high(turn, units);
    for (uint32_t i = 0; i < count; i++) {
        flash(rhythm, i * each, lit);
    }
}

static uint32_t level_at(const struct glanz_frame *frame) {
    struct rhythm rhythm = {0, ((uint32_t)frame->number[GLANZ_SEA_MARK_SOFT] >> 1) + 1u, 0};
    uint32_t turn = frame->turn[0];
    uint32_t count = (uint32_t)frame->number[GLANZ_SEA_MARK_GROUP];
    switch (frame->number[GLANZ_SEA_MARK_CHARACTER]) {
    case MARK_FIXED: return 65536u;
    case MARK_ISOPHASE: group(&rhythm, turn, 1, 0, UNITS(3), UNITS(6)); break;
    case MARK_LONG: group(&rhythm, turn, count, UNITS(5), UNITS(2), UNITS(5 * count + 4)); break;
    case MARK_OCCULTING: /* eclipses, which are shorter than the light */
        group(&rhythm, turn, count, UNITS(3), UNITS(1), UNITS(3 * count + 4));
        return 65536u - rhythm.level;
    case MARK_QUICK: group(&rhythm, turn, 1, 0, UNITS(2), UNITS(5)); break;
    case MARK_GROUP_QUICK: /* a flash a second, in 10 or 15 seconds */
        group(&rhythm, turn, count, UNITS(5) / 2, UNITS(1), (count <= 5 ? UNITS(25) : UNITS(75) / 2));
        break;
    case MARK_QUICK_LONG:
        group(&rhythm, turn, count, UNITS(5) / 2, UNITS(1), UNITS(75) / 2);
        flash(&rhythm, count * (UNITS(5) / 2) + UNITS(1), UNITS(5));
        break;
    case MARK_MORSE: morse(&rhythm, turn, signs[frame->number[GLANZ_SEA_MARK_LETTER]]); break;
    default: group(&rhythm, turn, count, UNITS(3), UNITS(1), UNITS(3 * count + 4)); break;
    }
    return rhythm.level;
}

static uint8_t step(struct glanz_frame *frame) {
    frame->kept[0] = (int32_t)level_at(frame);
    return frame->number[GLANZ_SEA_MARK_CHARACTER] == MARK_FIXED ? 0 : GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    (void)places;
    glanz_light_fill(light, glanz_light_mix(frame->color[1], frame->color[0], (uint32_t)frame->kept[0]), count);
}

GLANZ_CONST struct glanz_effect glanz_effect_sea_mark = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("sea mark"),
    .description = GLANZ_DESCRIPTION("the rhythm of a light at sea: flashing, occulting, isophase, quick, Morse; a pass is its "
                                     "period"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .step = step,
    .shade_field = shade,
    .least_columns = 1,
    .least_rows = 1,
};

#endif
