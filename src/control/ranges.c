/* SPDX-License-Identifier: MIT */
/* Ranges of readings that sensors and dials learn by being turned once from end to end; and the record that keeps them:
 * "GC", format, how many; for each the input's name, its lowest and highest reading (2 each); CRC-32. */
#include "record.h"

#if GLANZ_DRIVES_MOST > 0 && GLANZ_SEQUENCES

#define LEAST 4096u /* a sixteenth of all readings: less is no turn from end to end */

static int has_range(const struct glanz_control *control, uint8_t input) {
    return control->rig->inputs[input].kind == GLANZ_INPUT_SENSOR || control->rig->inputs[input].kind == GLANZ_INPUT_DIAL;
}

static glanz_status calibrate(struct glanz_control *control, GLANZ_CONST struct glanz_action *action,
                              const struct glanz_change *change) {
    if (!has_range(control, action->target)) {
        return GLANZ_ERR_ABSENT;
    }
    struct sense *sense = &control->senses[action->target];
    uint8_t on = action->number == 2 ? !sense->learns : action->number != 0;
    if (on == sense->learns) {
        return GLANZ_OK;
    }
    sense->learns = on;
    if (on) {
        sense->seen.low = 65535;
        sense->seen.high = 0;
        return GLANZ_OK;
    }
    uint32_t width = sense->seen.high > sense->seen.low ? (uint32_t)sense->seen.high - sense->seen.low : 0;
    struct range none = {0, 0};
    /* a hundredth less at either end, so that noise does not keep it from being reached; a dial goes all the way round */
    uint16_t end = control->rig->inputs[action->target].kind == GLANZ_INPUT_DIAL ? 0 : (uint16_t)(width / 100u);
    struct range learnt = {(uint16_t)(sense->seen.low + end), (uint16_t)(sense->seen.high - end)};
    sense->range = width < LEAST ? none : learnt;
    control->ranged++;
    glanz_control_notify(control, change->at_us, GLANZ_HAPPENED_RANGE, action->target, 0, width >= LEAST);
    return sense->begun ? SIGNALS(control)->take(control, action->target, sense->raw, change->at_us) : GLANZ_OK;
}

GLANZ_CONST struct glanz_action_kind glanz_action_calibrate = {
    .key = GLANZ_TEXT("calibrate"),
    .description =
        GLANZ_DESCRIPTION("a sensor or dial learns its range of readings while it is turned from end to end once, until "
                          "this is off; turned by less than a sixteenth, it is as the rig says"),
    .value = GLANZ_VALUE_INPUT,
    .may = GLANZ_WITH_ON,
    .parts = GLANZ_PART_CONTROL,
    .asleep = 1,
    .act = calibrate};

uint16_t glanz_control_ranged(const struct glanz_control *control) {
    return control == NULL ? 0 : control->ranged;
}

#if GLANZ_SAVED_MOST > 0

#define RANGES 0x4347ul /* "GC" */

glanz_status glanz_ranges_pack(const struct glanz_control *control, uint8_t *record, size_t capacity, size_t *count) {
    if (record == NULL || count == NULL || control == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct writer writer = {record, 0, capacity};
    uint8_t ranges = 0;
    glanz_record_put(&writer, RANGES | 1ul << 16, 4);
    for (uint8_t i = 0; i < control->rig->input_count && SIGNALS(control) != NULL; i++) {
        const struct range *range = &control->senses[i].range;
        if (range->high != 0) {
            glanz_record_put_name(&writer, control->rig->inputs[i].name);
            glanz_record_put(&writer, range->low, 2);
            glanz_record_put(&writer, range->high, 2);
            ranges++;
        }
    }
    return glanz_record_end(&writer, count, ranges);
}

glanz_status glanz_ranges_unpack(struct glanz_control *control, const uint8_t *record, size_t count) {
    struct reader reader;
    uint8_t ranges = 0;
    if (control == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (glanz_control_inside(control)) {
        return GLANZ_ERR_STATE;
    }
    for (uint8_t round = 0; round < 2; round++) { /* looked through first, then taken */
        glanz_status status = glanz_record_begin(&reader, &ranges, RANGES, 1, record, count);
        if (status != GLANZ_OK) {
            return status;
        }
        for (uint8_t i = 0; i < ranges && !reader.bad; i++) {
            struct text name = glanz_record_get_name(&reader);
            struct range range;
            range.low = (uint16_t)glanz_record_get(&reader, 2);
            range.high = (uint16_t)glanz_record_get(&reader, 2);
            reader.bad = reader.bad || range.high <= range.low;
            for (uint8_t k = 0; k < control->rig->input_count && round == 1 && SIGNALS(control) != NULL; k++) {
                if (has_range(control, k) && glanz_record_is_named(control->rig->inputs[k].name, name)) {
                    control->senses[k].range = range;
                }
            }
        }
        if (reader.bad || reader.at != reader.count) {
            return GLANZ_ERR_DAMAGED;
        }
    }
    return GLANZ_OK;
}

#endif
#endif
