/* SPDX-License-Identifier: MIT */
/* Effects of one's own against the contract of glanz/effects.h: what they say of themselves, then what they do, on lines, a
 * ring and a grid. Run in a process that it may crash. */
#include "effects.h"

#include <dlfcn.h>
#include <stdlib.h>
#include <string.h>

#define STAGE 200
#define CELLS_MOST 160
#define GUARD 64 /* bytes behind a memory that nobody may write to */
#define STEPS 40

#define SAY(words, path, effect, ...)                                                                                          \
    (text_print(words, "glanz: %s: effect \"%s\": ", path, effect), text_print(words, __VA_ARGS__), text_print(words, "\n"))

const struct glanz_effect_set *contract_set(void *object, struct text *words) {
    const struct glanz_effect_set *set = (const struct glanz_effect_set *)dlsym(object, "glanz_effect_set");
    if (set == NULL) {
        text_print(words, "it has no effects for this program; expected GLANZ_EFFECTS_SHARED(&effect, ...) in its source");
        return NULL;
    }
    if (set->version != GLANZ_EFFECT_VERSION) {
        text_print(words,
                   "it was built for version %u of effects, this is version %u; expected it built anew with these headers",
                   (unsigned)set->version, GLANZ_EFFECT_VERSION);
        return NULL;
    }
    if (set->effect_size != sizeof(struct glanz_effect) || set->frame_size != sizeof(struct glanz_frame)) {
        text_print(
            words,
            "it was built with other options: an effect of %u bytes and a frame of %u, here %u and %u; expected it built "
            "anew with GLANZ_DESCRIPTIONS and options as here",
            (unsigned)set->effect_size, (unsigned)set->frame_size, (unsigned)sizeof(struct glanz_effect),
            (unsigned)sizeof(struct glanz_frame));
        return NULL;
    }
    if (set->effects == NULL || set->effects[0] == NULL) {
        text_print(words, "its list of effects is empty; expected at least one");
        return NULL;
    }
    return set;
}

/* ---- what it says of itself ---- */

static const char *param_wrong(GLANZ_CONST struct glanz_effect *effect, uint8_t index) {
    GLANZ_CONST struct glanz_param *param = &effect->params[index];
    int is_length = param->kind == GLANZ_PARAM_LENGTH;
    int is_rate = param->kind == GLANZ_PARAM_RATE;
    if (param->name == NULL || param->name[0] == '\0') {
        return "has no name";
    }
    for (uint8_t i = 0; i < index; i++) {
        if (strcmp(effect->params[i].name, param->name) == 0) {
            return "has a name that an earlier one has";
        }
    }
    if (strcmp(param->name, "effect") == 0 || strcmp(param->name, "palette") == 0 || strcmp(param->name, "brightness") == 0) {
        return "has a name that looks use for something else";
    }
    if (param->kind > GLANZ_PARAM_SIGNAL || param->change > GLANZ_CHANGE_FOLLOWS) {
        return "is of no kind that there is, or changes in no way that there is";
    }
    if ((is_length && param->unit != GLANZ_UNIT_LEDS && param->unit != GLANZ_UNIT_LENGTHS) ||
        (is_rate && (param->unit == GLANZ_UNIT_NONE || param->unit > GLANZ_UNIT_PASS_TIME)) ||
        (!is_length && !is_rate && param->unit != GLANZ_UNIT_NONE)) {
        return "has a unit that does not go with its kind; expected LEDS or LENGTHS for a length, these, PASSES or PASS_TIME "
               "for "
               "a rate, NONE for others";
    }
    if (param->low > param->high) {
        return "has bounds that leave nothing";
    }
    if (param->kind == GLANZ_PARAM_CHOICE) {
        for (int32_t i = 0; i <= param->high; i++) {
            if (param->choices == NULL || param->low != 0 || param->high > 64 || param->choices[i] == NULL) {
                return "has no names for its choices; expected high + 1 of them, from 0 on";
            }
        }
    }
    return glanz_setting_check(effect, index, param->unit, param->standard) != GLANZ_OK
               ? "is out of its bounds when nothing is said"
               : NULL;
}

static int says_right(struct text *words, const char *path, GLANZ_CONST struct glanz_effect *effect) {
    int colors = 0;
    int rates = 0;
    int signals = 0;
    if (effect->name == NULL || effect->name[0] == '\0' || strlen(effect->name) > 30) {
        text_print(words, "glanz: %s: an effect has no name, or one of more than 30 letters\n", path);
        return 0;
    }
    if (effect->version != GLANZ_EFFECT_VERSION) {
        SAY(words, path, effect->name, "it is of version %u, this is version %u; expected .version = GLANZ_EFFECT_VERSION",
            effect->version, GLANZ_EFFECT_VERSION);
        return 0;
    }
    if (effect->param_count > GLANZ_PARAMS || (effect->param_count != 0 && effect->params == NULL)) {
        SAY(words, path, effect->name, "it has %u parameters; expected a list of at most %d", effect->param_count,
            GLANZ_PARAMS);
        return 0;
    }
    for (uint8_t i = 0; i < effect->param_count; i++) {
        const char *wrong = param_wrong(effect, i);
        if (wrong != NULL) {
            SAY(words, path, effect->name, "parameter %d, \"%s\", %s", i,
                effect->params[i].name == NULL ? "" : effect->params[i].name, wrong);
            return 0;
        }
        colors += effect->params[i].kind == GLANZ_PARAM_COLOR;
        rates += effect->params[i].kind == GLANZ_PARAM_RATE;
        signals += effect->params[i].kind == GLANZ_PARAM_SIGNAL;
    }
    if (colors > GLANZ_COLORS || rates > GLANZ_RATES || signals > 1) {
        SAY(words, path, effect->name, "it has %d colours, %d rates, %d signals; expected at most %d, %d and 1", colors, rates,
            signals, GLANZ_COLORS, GLANZ_RATES);
        return 0;
    }
    if ((effect->shade != NULL) == (effect->shade_field != NULL)) {
        SAY(words, path, effect->name, "expected either .shade, for a line, or .shade_field, for a field");
        return 0;
    }
    if (effect->needs >= 64 || effect->content > GLANZ_CONTENT_MARKS ||
        ((effect->needs & GLANZ_NEEDS_COVER) != 0 && effect->shade_field == NULL)) {
        SAY(words, path, effect->name, "it needs what there is not, or tells how it covers, which needs .shade_field");
        return 0;
    }
    if (signals != 0 && (effect->needs & (GLANZ_NEEDS_PULSES | GLANZ_NEEDS_SOUND)) == 0) {
        SAY(words, path, effect->name, "it has a signal, and needs neither GLANZ_NEEDS_PULSES nor GLANZ_NEEDS_SOUND");
        return 0;
    }
    return 1;
}

/* ---- what it does ---- */

static const struct ground {
    const char *name;
    uint16_t columns, rows;
    uint8_t closed;
} grounds[] = {{"a line of 20 LEDs", 20, 1, 0},
               {"a single LED", 1, 1, 0},
               {"a ring of 24 LEDs", 24, 1, 1},
               {"a grid of 16 x 10", 16, 10, 0}};

struct trial {
    GLANZ_CONST struct glanz_effect *effect;
    const struct ground *ground;
    struct glanz_frame frame;
    uint8_t *memory;
    uint32_t bytes;
    char *wrong; /* STAGE characters */
};

static const struct glanz_block blocks[] = {{3, GLANZ_RGB(255, 160, 0)}, {2, GLANZ_RGB(0, 60, 160)}};
static const struct glanz_pattern pattern = {GLANZ_CONTENT_PATTERN, "3 amber, 2 blue", blocks, 2, 5};
static const struct glanz_writing writing = {.kind = GLANZ_CONTENT_WRITING, .text = "Tide", .font = NULL};
static const struct glanz_mark mark = {0, 0, 1, 0, 0, 0, 0, GLANZ_RGB(0, 200, 90)};
static const struct glanz_marks marks = {GLANZ_CONTENT_MARKS, 1, &mark};

static const void *content_of(GLANZ_CONST struct glanz_effect *effect) {
    return effect->content == GLANZ_CONTENT_PATTERN   ? &pattern
           : effect->content == GLANZ_CONTENT_WRITING ? (const void *)&writing
           : effect->content == GLANZ_CONTENT_MARKS   ? (const void *)&marks
                                                      : NULL;
}

static int32_t seen_of(GLANZ_CONST struct glanz_param *param, uint16_t length) {
    int64_t number = param->standard;
    number = param->kind == GLANZ_PARAM_LENGTH && param->unit == GLANZ_UNIT_LENGTHS ? number * length : number;
    return (int32_t)(number > INT32_MAX ? INT32_MAX : number < INT32_MIN ? INT32_MIN : number);
}

static void shade(const struct trial *trial, struct glanz_light *light, uint16_t *cover, uint16_t first, uint8_t count) {
    glanz_place x[GLANZ_RUN];
    glanz_place y[GLANZ_RUN];
    uint16_t index[GLANZ_RUN];
    struct glanz_places places = {x, y, index};
    for (uint8_t i = 0; i < count; i++) {
        uint16_t at = (uint16_t)(first + i);
        x[i] = (glanz_place)(at % trial->ground->columns) * GLANZ_STEP + GLANZ_HALF;
        y[i] = (glanz_place)(at / trial->ground->columns) * GLANZ_STEP + GLANZ_HALF;
        index[i] = at;
    }
    if (trial->effect->shade_field != NULL) {
        trial->effect->shade_field(light, (trial->effect->needs & GLANZ_NEEDS_COVER) != 0 ? cover : NULL, &trial->frame,
                                   &places, count);
    } else {
        trial->effect->shade(light, &trial->frame, x, count);
    }
}

static int is_filled(const void *bytes, size_t count, uint8_t with) {
    for (size_t i = 0; i < count; i++) {
        if (((const uint8_t *)bytes)[i] != with) {
            return 0;
        }
    }
    return 1;
}

/* One run of LEDs at one moment: twice whole, over other leavings each time, and once LED by LED. */
static int shades_right(struct trial *trial, uint16_t first, uint8_t count) {
    struct glanz_light light[2][GLANZ_RUN + 4];
    uint16_t cover[2][GLANZ_RUN + 4];
    struct glanz_light single;
    uint16_t covers = 65535;
    struct glanz_frame kept = trial->frame;
    static uint8_t remembered[65536];
    int tells = (trial->effect->needs & GLANZ_NEEDS_COVER) != 0;
    if (trial->memory != NULL) {
        memcpy(remembered, trial->memory, trial->bytes);
    }
    for (int time = 0; time < 2; time++) {
        memset(light[time], time == 0 ? 0x5A : 0xA5, sizeof light[time]);
        memset(cover[time], time == 0 ? 0x5A : 0xA5, sizeof cover[time]);
        shade(trial, light[time], cover[time], first, count);
        if (!is_filled(&light[time][count], sizeof light[time][0] * 4, time == 0 ? 0x5A : 0xA5) ||
            !is_filled(&cover[time][count], sizeof cover[time][0] * 4, time == 0 ? 0x5A : 0xA5)) {
            snprintf(trial->wrong, STAGE, "its shade wrote beyond the %u places that it was asked for", count);
            return 0;
        }
    }
    for (uint8_t i = 0; i < count; i++) {
        if (memcmp(&light[0][i], &light[1][i], sizeof light[0][i]) != 0 || (tells && cover[0][i] != cover[1][i])) {
            snprintf(trial->wrong, STAGE,
                     "its shade, asked twice, gave two answers for LED %u, or left it as it was; expected that "
                     "it fills every place, the same each time",
                     first + i);
            return 0;
        }
        shade(trial, &single, &covers, (uint16_t)(first + i), 1);
        if (memcmp(&light[0][i], &single, sizeof single) != 0 || (tells && covers != cover[0][i])) {
            snprintf(trial->wrong, STAGE,
                     "its shade gave LED %u another light when it was asked for it alone; expected that each "
                     "place is by itself",
                     first + i);
            return 0;
        }
    }
    if (memcmp(&kept, &trial->frame, sizeof kept) != 0 ||
        (trial->memory != NULL && memcmp(remembered, trial->memory, trial->bytes) != 0)) {
        snprintf(trial->wrong, STAGE, "its shade changed the frame or its memory; expected that only step does");
        return 0;
    }
    return 1;
}

static void begin(struct trial *trial, const struct glanz_world *world, int forgets) {
    struct glanz_frame *frame = &trial->frame;
    uint8_t color = 0;
    memset(frame, 0, sizeof *frame);
    frame->length = trial->ground->columns;
    frame->rows = trial->ground->rows;
    frame->closed = trial->ground->closed;
    frame->seed = 12345;
    frame->gradient = trial->effect->gradient == NULL ? &glanz_gradient_standard : trial->effect->gradient;
    frame->content = content_of(trial->effect);
    frame->world = world;
    for (uint8_t i = 0; i < trial->effect->param_count; i++) {
        frame->number[i] = seen_of(&trial->effect->params[i], frame->length);
        if (trial->effect->params[i].kind == GLANZ_PARAM_COLOR) {
            frame->color[color++] = glanz_color_light((glanz_color)trial->effect->params[i].standard, NULL, 0);
        }
    }
    trial->bytes = trial->effect->memory == NULL ? 0 : trial->effect->memory(frame);
    if (trial->bytes != 0 && trial->bytes <= 65528 && !forgets) {
        trial->memory = (uint8_t *)calloc(1, trial->bytes + GUARD);
        memset(trial->memory + trial->bytes, 0x5A, GUARD);
        frame->memory = trial->memory;
        frame->capacity = (uint16_t)trial->bytes;
    }
}

static int does_right(struct trial *trial, int forgets) {
    const struct glanz_world world = {.known = 1, .day = 20000, .second = 43200};
    uint16_t cells = (uint16_t)(trial->ground->columns * trial->ground->rows);
    begin(trial, &world, forgets);
    if (trial->bytes > 65528) {
        snprintf(trial->wrong, STAGE, "it wants to remember %u bytes; expected at most 65528", (unsigned)trial->bytes);
        return 0;
    }
    for (int step = 0; step < STEPS; step++) {
        trial->frame.params_changed = step == 0;
        trial->frame.elapsed_us = step == 0 ? 0 : 20000;
        for (int r = 0; r < GLANZ_RATES; r++) {
            uint32_t on = trial->frame.turn[r] + 0x0C35A7B1u;
            trial->frame.lap[r] = (int16_t)(trial->frame.lap[r] + (on < trial->frame.turn[r]));
            trial->frame.turn[r] = on;
        }
        if (trial->effect->step != NULL) {
            struct glanz_frame before = trial->frame;
            (void)trial->effect->step(&trial->frame);
            memcpy(before.kept, trial->frame.kept, sizeof before.kept);
            if (memcmp(&before, &trial->frame, sizeof before) != 0) {
                snprintf(trial->wrong, STAGE, "its step changed the frame beside `kept`");
                return 0;
            }
        }
        if ((trial->effect->pass != NULL && trial->effect->pass(&trial->frame) <= 0) ||
            (trial->effect->second_pass != NULL && trial->effect->second_pass(&trial->frame) <= 0)) {
            snprintf(trial->wrong, STAGE, "a pass has no points; expected more than 0");
            return 0;
        }
        for (uint16_t first = 0; first < cells && step % 3 == 0; first = (uint16_t)(first + 13)) {
            if (!shades_right(trial, first, (uint8_t)(cells - first < 13 ? cells - first : 13))) {
                return 0;
            }
        }
        if (trial->memory != NULL && !is_filled(trial->memory + trial->bytes, GUARD, 0x5A)) {
            snprintf(trial->wrong, STAGE, "it wrote beyond the %u bytes that it wanted to remember", (unsigned)trial->bytes);
            return 0;
        }
    }
    return 1;
}

int contract_check(const char *object_path, const char *file, char *stage, struct text *words) {
    snprintf(stage, STAGE, "%s", file);
    void *object = dlopen(object_path, RTLD_NOW | RTLD_LOCAL);
    struct text why = {NULL, 0, 0};
    const struct glanz_effect_set *set = object == NULL ? NULL : contract_set(object, &why);
    if (set == NULL) {
        text_print(words, "glanz: %s: %s\n", file, object == NULL ? dlerror() : why.bytes);
        text_free(&why);
        return 0;
    }
    for (int e = 0; set->effects[e] != NULL; e++) {
        GLANZ_CONST struct glanz_effect *effect = set->effects[e];
        if (!says_right(words, file, effect)) {
            return 0;
        }
        for (int i = 0; i < e; i++) {
            if (strcmp(set->effects[i]->name, effect->name) == 0) {
                SAY(words, file, effect->name, "another one before it has that name");
                return 0;
            }
        }
        for (size_t g = 0; g < 2 * sizeof grounds / sizeof grounds[0] && (effect->content != GLANZ_CONTENT_PICTURE); g++) {
            char wrong[STAGE] = "";
            struct trial trial = {.effect = effect, .ground = &grounds[g / 2], .wrong = wrong};
            if (trial.ground->rows > 1 && effect->shade_field == NULL) {
                continue;
            }
            snprintf(stage, STAGE, "%s: effect \"%s\" on %s%s", file, effect->name, trial.ground->name,
                     g % 2 != 0 ? ", without room to remember" : "");
            int good = does_right(&trial, g % 2 != 0);
            free(trial.memory);
            if (!good) {
                SAY(words, file, effect->name, "on %s%s: %s", trial.ground->name,
                    g % 2 != 0 && effect->memory != NULL ? ", without room to remember" : "", wrong);
                return 0;
            }
        }
    }
    return 1;
}
