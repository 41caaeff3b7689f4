/* SPDX-License-Identifier: MIT */
/* Levels of signals as people write them: in the unit of their input, as an angle, or in percent. */
#include <string.h>

#include "read.h"
#include "write.h"

#define FINEST 1000000 /* of a unit */

/* The input of a signal; NULL: it is a signal of the show, or none. */
static GLANZ_CONST struct glanz_input *input_of(GLANZ_CONST struct glanz_rig *rig, uint32_t signal) {
    return rig != NULL && signal < rig->input_count ? &rig->inputs[signal] : NULL;
}

static int is_turn(GLANZ_CONST struct glanz_rig *rig, GLANZ_CONST struct glanz_show *show, uint32_t signal) {
    GLANZ_CONST struct glanz_input *input = input_of(rig, signal);
    if (input != NULL) {
        return input->kind == GLANZ_INPUT_DIAL || (input->kind == GLANZ_INPUT_KNOB && input->endless);
    }
    return rig != NULL && show != NULL && signal - rig->input_count < show->signal_count &&
           glanz_signal_turns(&show->signals[signal - rig->input_count]);
}

/* Which signal a level is of: that is the first thing that its struct says. */
static uint32_t signal_of(const struct row *row, const void *base) {
    switch (row->arg.low) {
    case LEVEL_OF_TRIGGER:
    case LEVEL_OF_MARGIN: return ((const struct glanz_trigger *)base)->input;
    case LEVEL_OF_CONDITION: return ((const struct glanz_condition *)base)->signal;
    default: return ((const struct glanz_drive *)base)->signal;
    }
}

static uint32_t full_of(const struct row *row) {
    return row->arg.low == LEVEL_OF_DRIVE ? 65536u : 65535u;
}

/* ---- ranges ---- */

/* A decimal in millionths; finer ones are none. @return where it ends; NULL: it is none, or beyond 2,000,000. */
static const char *read_micro(const char *text, int64_t *micro) {
    int negative = *text == '-';
    int64_t scale = FINEST;
    const char *at = text + negative;
    const char *begin = at;
    *micro = 0;
    while (*at >= '0' && *at <= '9' && at - begin < 8) {
        *micro = *micro * 10 + (*at++ - '0');
    }
    if (at == begin) {
        return NULL;
    }
    *micro *= FINEST;
    if (*at == '.') {
        for (at++; *at >= '0' && *at <= '9' && scale >= 10; at++) {
            scale /= 10;
            *micro += (*at - '0') * scale;
        }
        at = at[-1] == '.' ? NULL : at;
    }
    *micro = negative ? -*micro : *micro;
    return *micro > 2000000 * (int64_t)FINEST || *micro < -2000000 * (int64_t)FINEST ? NULL : at;
}

/* "0 to 6.5 m": ends to the thousandth. */
void glanz_read_reads(struct reading *reading, int token, struct glanz_input *input) {
    struct json *json = &reading->json;
    char *text = glanz_json_is(json, token, JSON_STRING) ? glanz_json_text(json, token) : NULL;
    int64_t low = 0;
    int64_t high = 0;
    const char *at = text == NULL ? NULL : read_micro(text, &low);
    at = at == NULL || strncmp(at, " to ", 4) != 0 ? NULL : read_micro(at + 4, &high);
    if (at == NULL || *at != ' ' || at[1] == '\0' || at[1] == ' ' || strlen(at + 1) > 12 || low == high || low % 1000 != 0 ||
        high % 1000 != 0) {
        if (json->status == GLANZ_OK) {
            glanz_json_fail(
                json, token,
                "expected two ends that differ, to the thousandth, and a unit, such as \"0 to 6.5 m\" or \"-20 to 50 degrees\"",
                NULL, NULL);
        }
        return;
    }
    input->unit = at + 1;
    input->reads_low = (int32_t)(low / 1000);
    input->reads_high = (int32_t)(high / 1000);
}

/* A decimal as short as it can be. @param micro millionths. */
static char *put_micro(char *at, int64_t micro) {
    if (micro < 0) {
        *at++ = '-';
        micro = -micro;
    }
    at = glanz_write_digits(at, (uint32_t)(micro / FINEST), 1);
    uint32_t part = (uint32_t)(micro % FINEST);
    if (part != 0) {
        *at++ = '.';
        at = glanz_write_digits(at, part, 6);
        while (at[-1] == '0') {
            at--;
        }
        *at = '\0';
    }
    return at;
}

/* A blank and a unit, of which long ones are cut off. */
static void put_unit(char *at, const char *unit) {
    *at++ = ' ';
    for (int i = 0; i < 13 && unit[i] != '\0'; i++) {
        *at++ = unit[i];
    }
    *at = '\0';
}

void glanz_write_reads(struct writer *writer, const char *key, const struct glanz_input *input) {
    char text[64];
    if (input->unit == NULL) {
        return;
    }
    char *at = put_micro(text, (int64_t)input->reads_low * 1000);
    strcpy(at, " to ");
    at = put_micro(at + 4, (int64_t)input->reads_high * 1000);
    put_unit(at, input->unit);
    glanz_write_key(writer, key);
    glanz_write_string(writer, text);
}

/* ---- levels ---- */

/* Millionths of a unit as a level, or below 0. @param width of a range, not from its low end. */
static int64_t level_of(GLANZ_CONST struct glanz_input *input, int64_t micro, uint32_t full, int width) {
    int64_t all = ((int64_t)input->reads_high - input->reads_low) * 1000;
    int64_t part = width ? (micro < 0 ? -1 : micro) : micro - (int64_t)input->reads_low * 1000;
    if (all < 0) {
        all = -all;
        part = width ? part : -part;
    }
    return part < 0 ? -1 : (part * full + all / 2) / all;
}

void glanz_read_level(struct reading *reading, const struct row *row, int token, void *base) {
    struct json *json = &reading->json;
    uint32_t signal = signal_of(row, base);
    GLANZ_CONST struct glanz_input *input = input_of(reading->rig, signal);
    uint32_t full = full_of(row);
    int width = row->arg.low == LEVEL_OF_MARGIN;
    int64_t level;
    int64_t micro;
    char text[64];
    if (input != NULL && input->unit != NULL && glanz_json_is(json, token, JSON_STRING) &&
        glanz_json_copy(json, token, text, sizeof text) < sizeof text && strchr(text, '%') == NULL) {
        const char *at = read_micro(text, &micro);
        level = at == NULL || *at != ' ' || strcmp(at + 1, input->unit) != 0 ? -2 : level_of(input, micro, full, width);
        if (level < 0 || level > (int64_t)full) {
            char low[24];
            put_micro(low, (int64_t)input->reads_low * 1000);
            glanz_json_fail(json, token, level == -2 ? "expected a level such as " : "beyond what this input reads; expected ",
                            NULL, low);
            glanz_fault_add(json->fault, " to ");
            put_micro(low, (int64_t)input->reads_high * 1000);
            glanz_fault_add(json->fault, low);
            glanz_fault_add(json->fault, " ");
            glanz_fault_add(json->fault, input->unit);
            return;
        }
    } else if (is_turn(reading->rig, reading->show, signal) && glanz_json_is(json, token, JSON_STRING) &&
               glanz_json_copy(json, token, text, sizeof text) < sizeof text && strchr(text, '%') == NULL) {
        level = glanz_json_quantity(json, token, QUANTITY_ANGLE, 0, 65535, NULL);
    } else {
        level = glanz_json_quantity(json, token, full == 65536u ? QUANTITY_SHARE : QUANTITY_LIGHTNESS, 0, full, NULL);
    }
    glanz_row_set(row, base, (uint32_t)level);
}

void glanz_write_level(struct writer *writer, const struct row *row, const void *base) {
    uint32_t level = glanz_row_get(row, base);
    uint32_t signal = signal_of(row, base);
    GLANZ_CONST struct glanz_input *input = input_of(writer->rig, signal);
    uint32_t full = full_of(row);
    int width = row->arg.low == LEVEL_OF_MARGIN;
    if (level == 0 && (width || full == 65536u)) {
        return; /* not said */
    }
    glanz_write_key(writer, row->key);
    if (input != NULL && input->unit != NULL) {
        char text[48];
        int64_t all = ((int64_t)input->reads_high - input->reads_low) * 1000;
        int64_t micro = all * (int64_t)level / (int64_t)full + (width ? 0 : (int64_t)input->reads_low * 1000);
        micro = width && micro < 0 ? -micro : micro;
        for (int64_t scale = FINEST; scale >= 1; scale /= 10) { /* the fewest digits that read back equal */
            int64_t half = micro < 0 ? -scale / 2 : scale / 2;
            int64_t round = (micro + half) / scale * scale;
            if (level_of(input, round, full, width) == (int64_t)level || scale == 1) {
                char *at = put_micro(text, round);
                put_unit(at, input->unit);
                break;
            }
        }
        glanz_write_string(writer, text);
    } else if (is_turn(writer->rig, writer->show, signal) && full == 65535u) {
        glanz_write_quantity(writer, QUANTITY_ANGLE, level, 0);
    } else {
        glanz_write_quantity(writer, full == 65536u ? QUANTITY_SHARE : QUANTITY_LIGHTNESS, level, 0);
    }
}
