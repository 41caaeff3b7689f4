/* SPDX-License-Identifier: MIT */
/* A rig validated: pins, lines, pieces, panels, rings, points, currents. */
#include <glanz/calendar.h>
#include <glanz/engine.h>

#include "current.h"
#include "state.h"

#if GLANZ_FIELDS
#define SURFACE_KINDS 5
#else
#define SURFACE_KINDS 2
#endif
#define CHANNEL_UA_MOST 500000u    /* keeps sums of a chip's units in 32 bits */
#define SUPPLY_UA_MOST 4000000000u /* and those of supplies */

static GLANZ_CONST char *GLANZ_CONST kind_keys[] = {GLANZ_TEXT("strip"), GLANZ_TEXT("ring"), GLANZ_TEXT("grid"),
                                                    GLANZ_TEXT("rings"), GLANZ_TEXT("points")};

/* Begin a fault at /kind/name. */
static glanz_status refuse(struct glanz_fault *fault, GLANZ_CONST char *kind, GLANZ_CONST char *name) {
    glanz_fault_begin(fault);
    glanz_fault_at(fault, kind);
    glanz_fault_at(fault, name);
    return GLANZ_ERR_RIG;
}

static glanz_status check_stretch(GLANZ_CONST struct glanz_output *output, uint8_t index, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_stretch *stretch = &output->stretches[index];
    refuse(fault, GLANZ_TEXT("outputs"), output->name);
    glanz_fault_at(fault, GLANZ_TEXT("line"));
    glanz_fault_at_index(fault, index);
    if (stretch->chip == NULL || stretch->leds == 0 || stretch->leds > GLANZ_LEDS_MOST) {
        glanz_fault_add(fault, GLANZ_TEXT("a stretch needs a chip and 1 to 32767 LEDs"));
        return GLANZ_ERR_RIG;
    }
    if (!glanz_order_valid(stretch->order, stretch->chip->channels)) {
        glanz_fault_at(fault, GLANZ_TEXT("order"));
        glanz_fault_add(fault, GLANZ_TEXT("a colour order names each channel of the chip once"));
        return GLANZ_ERR_RIG;
    }
    for (uint8_t c = 0; c < stretch->chip->channels; c++) {
        if (glanz_stretch_channel_ua(stretch, c) > CHANNEL_UA_MOST) {
            glanz_fault_at(fault, GLANZ_TEXT("parallel"));
            glanz_fault_add(fault, GLANZ_TEXT("more than 500 mA a channel; expected fewer strips in parallel"));
            return GLANZ_ERR_RIG;
        }
    }
    GLANZ_CONST struct glanz_chip *first = output->stretches[0].chip;
    struct glanz_timing least;
    struct glanz_timing most;
    if (stretch->chip->protocol != first->protocol ||
        (first->protocol == GLANZ_ONE_WIRE && glanz_output_window(&least, &most, output, (uint8_t)(index + 1)) != GLANZ_OK)) {
        glanz_fault_at(fault, GLANZ_TEXT("chip"));
        glanz_fault_name(fault, stretch->chip->name);
        glanz_fault_add(fault, GLANZ_TEXT(" cannot share a data line with "));
        glanz_fault_name(fault, first->name);
        glanz_fault_add(fault, GLANZ_TEXT(": their timing differs; expected a chip of the same protocol and speed"));
        return GLANZ_ERR_RIG;
    }
    return GLANZ_OK;
}

static glanz_status check_output(GLANZ_CONST struct glanz_rig *rig, uint8_t index, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_output *output = &rig->outputs[index];
    uint32_t leds = 0;
    if (output->stretch_count == 0 || output->stretches == NULL || output->supply >= rig->supply_count || output->buffers > 2) {
        refuse(fault, GLANZ_TEXT("outputs"), output->name);
        glanz_fault_add(fault, GLANZ_TEXT("an output needs a line of LEDs, a supply of the rig, and one or two buffers"));
        return GLANZ_ERR_RIG;
    }
    for (uint8_t i = 0; i < output->stretch_count; i++) {
        glanz_status status = check_stretch(output, i, fault);
        if (status != GLANZ_OK) {
            return status;
        }
        leds += output->stretches[i].leds;
    }
    refuse(fault, GLANZ_TEXT("outputs"), output->name);
    if (leds > GLANZ_LEDS_MOST) {
        glanz_fault_number(fault, leds);
        glanz_fault_add(fault, GLANZ_TEXT(" LEDs on one output; expected at most 32767"));
        return GLANZ_ERR_RIG;
    }
    for (uint8_t other = 0; other < index; other++) {
        uint8_t clocked = output->stretches[0].chip->protocol == GLANZ_CLOCKED;
        uint8_t other_clocked = rig->outputs[other].stretches[0].chip->protocol == GLANZ_CLOCKED;
        if (rig->outputs[other].pin == output->pin || (clocked && rig->outputs[other].pin == output->clock_pin) ||
            (other_clocked && rig->outputs[other].clock_pin == output->pin)) {
            glanz_fault_at(fault, GLANZ_TEXT("pin"));
            glanz_fault_add(fault, GLANZ_TEXT("the pin is taken by output "));
            glanz_fault_name(fault, rig->outputs[other].name);
            glanz_fault_add(fault, GLANZ_TEXT("; expected a pin of its own"));
            return GLANZ_ERR_RIG;
        }
    }
    return GLANZ_OK;
}

/* Do two pieces claim a LED both? */
static int overlap(GLANZ_CONST struct glanz_piece *a, GLANZ_CONST struct glanz_piece *b) {
    return a->output == b->output && a->first < (uint32_t)b->first + b->leds && b->first < (uint32_t)a->first + a->leds;
}

static glanz_status check_piece(GLANZ_CONST struct glanz_rig *rig, uint8_t surface, uint8_t piece, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_surface *own = &rig->surfaces[surface];
    GLANZ_CONST struct glanz_piece *at = &own->pieces[piece];
    refuse(fault, GLANZ_TEXT("surfaces"), own->name);
    glanz_fault_at(fault, kind_keys[own->kind]);
    glanz_fault_at_index(fault, piece);
    if (at->output >= rig->output_count || at->leds == 0) {
        glanz_fault_add(fault, GLANZ_TEXT("a piece needs an output of the rig and 1 LED or more"));
        return GLANZ_ERR_RIG;
    }
    uint16_t leds = glanz_output_leds(&rig->outputs[at->output]);
    if ((uint32_t)at->first + at->leds > leds) {
        glanz_fault_add(fault, GLANZ_TEXT("the piece ends at LED "));
        glanz_fault_number(fault, (uint32_t)at->first + at->leds - 1u);
        glanz_fault_add(fault, GLANZ_TEXT(", past the end of output "));
        glanz_fault_name(fault, rig->outputs[at->output].name);
        glanz_fault_add(fault, GLANZ_TEXT("; expected at most LED "));
        glanz_fault_number(fault, (uint32_t)leds - 1u);
        return GLANZ_ERR_RIG;
    }
    for (uint8_t s = 0; s <= surface; s++) {
        uint8_t pieces = s == surface ? piece : rig->surfaces[s].piece_count;
        for (uint8_t p = 0; p < pieces; p++) {
            if (overlap(at, &rig->surfaces[s].pieces[p])) {
                glanz_fault_add(fault, GLANZ_TEXT("LEDs of output "));
                glanz_fault_name(fault, rig->outputs[at->output].name);
                glanz_fault_add(fault, GLANZ_TEXT(" are claimed twice, here and by surface "));
                glanz_fault_name(fault, rig->surfaces[s].name);
                glanz_fault_add(fault, GLANZ_TEXT("; expected each LED on one surface"));
                return GLANZ_ERR_RIG;
            }
        }
    }
    return GLANZ_OK;
}

#if GLANZ_FIELDS

static glanz_status refuse_piece(struct glanz_fault *fault, GLANZ_CONST struct glanz_surface *surface, uint16_t index,
                                 GLANZ_CONST char *text) {
    refuse(fault, GLANZ_TEXT("surfaces"), surface->name);
    glanz_fault_at(fault, surface->kind == GLANZ_SURFACE_POINTS ? GLANZ_TEXT("places") : kind_keys[surface->kind]);
    glanz_fault_at_index(fault, index);
    glanz_fault_add(fault, text);
    return GLANZ_ERR_RIG;
}

static void fault_size(struct glanz_fault *fault, uint32_t columns, uint32_t rows) {
    glanz_fault_number(fault, columns);
    glanz_fault_add(fault, GLANZ_TEXT(" x "));
    glanz_fault_number(fault, rows);
}

/* Do two panels hang over each other? */
static int panels_meet(GLANZ_CONST struct glanz_panel *a, GLANZ_CONST struct glanz_panel *b) {
    uint32_t a_columns = (a->turned & 1u) != 0 ? a->rows : a->columns;
    uint32_t a_rows = (a->turned & 1u) != 0 ? a->columns : a->rows;
    uint32_t b_columns = (b->turned & 1u) != 0 ? b->rows : b->columns;
    uint32_t b_rows = (b->turned & 1u) != 0 ? b->columns : b->rows;
    return a->left < b->left + b_columns && b->left < a->left + a_columns && a->top < b->top + b_rows &&
           b->top < a->top + a_rows;
}

static glanz_status check_panels(GLANZ_CONST struct glanz_surface *surface, struct glanz_fault *fault) {
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        GLANZ_CONST struct glanz_panel *panel = &surface->panels[i];
        uint32_t leds = (uint32_t)panel->columns * panel->rows;
        uint32_t right = panel->left + (uint32_t)((panel->turned & 1u) != 0 ? panel->rows : panel->columns);
        uint32_t bottom = panel->top + (uint32_t)((panel->turned & 1u) != 0 ? panel->columns : panel->rows);
        if (panel->turned > 3 || panel->wiring > 15) {
            return refuse_piece(fault, surface, i, GLANZ_TEXT("expected 0 to 3 quarter turns and a wiring"));
        }
        if (leds != surface->pieces[i].leds) {
            refuse_piece(fault, surface, i, GLANZ_TEXT("a panel of "));
            fault_size(fault, panel->columns, panel->rows);
            glanz_fault_add(fault, GLANZ_TEXT(" has "));
            glanz_fault_number(fault, leds);
            glanz_fault_add(fault, GLANZ_TEXT(" LEDs; expected its piece to have as many, not "));
            glanz_fault_number(fault, surface->pieces[i].leds);
            return GLANZ_ERR_RIG;
        }
        uint16_t most_columns = surface->columns == 0 ? GLANZ_FIELD_MOST : surface->columns;
        uint16_t most_rows = surface->rows == 0 ? GLANZ_FIELD_MOST : surface->rows;
        if (right > most_columns || bottom > most_rows) {
            refuse_piece(fault, surface, i, GLANZ_TEXT("the panel reaches to column "));
            glanz_fault_number(fault, right);
            glanz_fault_add(fault, GLANZ_TEXT(" and row "));
            glanz_fault_number(fault, bottom);
            glanz_fault_add(fault, GLANZ_TEXT(", outside the field; expected it within "));
            fault_size(fault, most_columns, most_rows);
            return GLANZ_ERR_RIG;
        }
        for (uint8_t other = 0; other < i; other++) {
            if (panels_meet(panel, &surface->panels[other])) {
                refuse_piece(fault, surface, i, GLANZ_TEXT("takes places that panel "));
                glanz_fault_number(fault, other);
                glanz_fault_add(fault,
                                GLANZ_TEXT(" of the list has already; expected places of its own: see \"left\", \"top\""));
                return GLANZ_ERR_RIG;
            }
        }
    }
    return GLANZ_OK;
}

#define POINTS_MOST 4096u /* they are compared one by one */

static glanz_status check_points(GLANZ_CONST struct glanz_surface *surface, struct glanz_fault *fault) {
    uint16_t leds = glanz_surface_leds(surface);
    uint16_t columns;
    uint16_t rows;
    glanz_surface_field(&columns, &rows, surface);
    if (leds > POINTS_MOST) {
        return refuse_piece(fault, surface, 0, GLANZ_TEXT("expected at most 4096 free points on a surface"));
    }
    for (uint16_t i = 0; i < leds; i++) {
        GLANZ_CONST struct glanz_point *point = &surface->points[i];
        if (point->x > columns * 64u || point->y > rows * 64u) {
            refuse_piece(fault, surface, i, GLANZ_TEXT("the place lies outside the field; expected it within "));
            fault_size(fault, columns, rows);
            return GLANZ_ERR_RIG;
        }
        for (uint16_t other = 0; other < i; other++) {
            if (surface->points[other].x == point->x && surface->points[other].y == point->y) {
                refuse_piece(fault, surface, i, GLANZ_TEXT("LED "));
                glanz_fault_number(fault, other);
                glanz_fault_add(fault, GLANZ_TEXT(" stands in the same place; expected a place of its own for each LED"));
                return GLANZ_ERR_RIG;
            }
        }
    }
    return GLANZ_OK;
}

static glanz_status check_rings(GLANZ_CONST struct glanz_surface *surface, struct glanz_fault *fault) {
    for (uint8_t i = 0; i < surface->piece_count; i++) {
        for (uint8_t other = 0; other < i; other++) {
            GLANZ_CONST struct glanz_circle *circles = surface->circles;
            uint8_t own = 0;
            if (circles != NULL && (circles[i].radius != 0 || circles[other].radius != 0)) {
                own = 1;
            }
            if (own ? circles[i].radius == circles[other].radius : surface->pieces[i].leds == surface->pieces[other].leds) {
                refuse_piece(fault, surface, i, GLANZ_TEXT("lies on ring "));
                glanz_fault_number(fault, other);
                glanz_fault_add(fault, GLANZ_TEXT(" of the list; expected rings of different \"radius\""));
                return GLANZ_ERR_RIG;
            }
        }
    }
    return GLANZ_OK;
}

static glanz_status check_field(GLANZ_CONST struct glanz_surface *surface, struct glanz_fault *fault) {
    uint16_t columns = 1;
    uint16_t rows = 1;
    glanz_status status = GLANZ_OK;
    if ((surface->kind == GLANZ_SURFACE_GRID && surface->panels == NULL) ||
        (surface->kind == GLANZ_SURFACE_POINTS && surface->points == NULL)) {
        refuse(fault, GLANZ_TEXT("surfaces"), surface->name);
        glanz_fault_add(fault, GLANZ_TEXT("a grid needs panels, free points need places"));
        return GLANZ_ERR_RIG;
    }
    switch (surface->kind) {
    case GLANZ_SURFACE_GRID: status = check_panels(surface, fault); break;
    case GLANZ_SURFACE_POINTS: status = check_points(surface, fault); break;
    case GLANZ_SURFACE_RINGS: status = check_rings(surface, fault); break;
    default: return GLANZ_OK;
    }
    if (status == GLANZ_OK) {
        glanz_surface_field(&columns, &rows, surface);
    }
    if (columns > GLANZ_FIELD_MOST || rows > GLANZ_FIELD_MOST) {
        refuse(fault, GLANZ_TEXT("surfaces"), surface->name);
        glanz_fault_add(fault, GLANZ_TEXT("expected at most 1023 columns and rows"));
        return GLANZ_ERR_RIG;
    }
    return status;
}

#endif

static glanz_status check_limits(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    for (uint8_t s = 0; s < rig->supply_count; s++) {
        uint32_t idle = 0;
        uint32_t full = 0;
        for (uint8_t o = 0; o < rig->output_count; o++) {
            idle = glanz_plus(idle, rig->outputs[o].supply == s ? glanz_output_ua(&rig->outputs[o], 0) : 0);
            full = glanz_plus(full, rig->outputs[o].supply == s ? glanz_output_ua(&rig->outputs[o], 15) : 0);
        }
        if (full > SUPPLY_UA_MOST || rig->supplies[s].limit_ma > SUPPLY_UA_MOST / 1000u) {
            refuse(fault, GLANZ_TEXT("supplies"), rig->supplies[s].name);
            glanz_fault_add(fault, GLANZ_TEXT("more than 4000 A on one supply; expected less"));
            return GLANZ_ERR_RIG;
        }
        if (rig->supplies[s].limit_ma != 0 && idle / 1000u >= rig->supplies[s].limit_ma) {
            refuse(fault, GLANZ_TEXT("supplies"), rig->supplies[s].name);
            glanz_fault_at(fault, GLANZ_TEXT("limit"));
            glanz_fault_add(fault, GLANZ_TEXT("the dark LEDs alone draw "));
            glanz_fault_number(fault, (idle + 999u) / 1000u);
            glanz_fault_add(fault, GLANZ_TEXT(" mA, and the limit is "));
            glanz_fault_number(fault, rig->supplies[s].limit_ma);
            glanz_fault_add(fault, GLANZ_TEXT(" mA; expected a limit above that"));
            return GLANZ_ERR_RIG;
        }
    }
    return GLANZ_OK;
}

#if GLANZ_CALENDAR
static glanz_status check_where(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    struct glanz_zone zone;
    uint8_t zone_at = 0;
    if (glanz_zone_read(&zone, rig->zone, &zone_at) != GLANZ_OK) {
        refuse(fault, GLANZ_TEXT("zone"), NULL);
        glanz_fault_add(fault,
                        GLANZ_TEXT("expected a time zone as POSIX writes it, such as \"CET-1CEST,M3.5.0,M10.5.0/3\"; this one "
                                   "cannot be read on after byte "));
        glanz_fault_number(fault, zone_at);
        return GLANZ_ERR_RIG;
    }
    if (rig->latitude < -900000 || rig->latitude > 900000 || rig->longitude < -1800000 || rig->longitude > 1800000) {
        refuse(fault, GLANZ_TEXT("place"), NULL);
        glanz_fault_add(fault, GLANZ_TEXT("expected 90 degrees north or south and 180 east or west at most"));
        return GLANZ_ERR_RIG;
    }
    return GLANZ_OK;
}
#endif

static glanz_status check_surface(GLANZ_CONST struct glanz_rig *rig, uint8_t index, struct glanz_fault *fault) {
    GLANZ_CONST struct glanz_surface *surface = &rig->surfaces[index];
    uint32_t leds = 0;
    if (surface->piece_count == 0 || surface->pieces == NULL || surface->kind >= SURFACE_KINDS) {
        refuse(fault, GLANZ_TEXT("surfaces"), surface->name);
        glanz_fault_add(fault, GLANZ_TEXT("a surface needs at least one piece"));
        return GLANZ_ERR_RIG;
    }
    for (uint8_t p = 0; p < surface->piece_count; p++) {
        glanz_status status = check_piece(rig, index, p, fault);
        if (status != GLANZ_OK) {
            return status;
        }
        leds += surface->pieces[p].leds;
    }
    if (leds > GLANZ_LEDS_MOST) {
        refuse(fault, GLANZ_TEXT("surfaces"), surface->name);
        glanz_fault_add(fault, GLANZ_TEXT("expected at most 32767 LEDs on a surface"));
        return GLANZ_ERR_RIG;
    }
#if GLANZ_FIELDS
    return check_field(surface, fault);
#else
    return GLANZ_OK;
#endif
}

/* NULL: nothing. */
static GLANZ_CONST char *input_wrong(GLANZ_CONST struct glanz_input *input) {
#if GLANZ_DRIVES_MOST > 0
    if (input->kind == GLANZ_INPUT_SENSOR && input->low >= (input->high == 0 ? 65535 : input->high)) {
        return GLANZ_TEXT("a sensor's readings from \"low\" to \"high\" have no width; expected a higher \"high\"");
    }
    if (input->kind == GLANZ_INPUT_KNOB && input->second_pin == input->pin) {
        return GLANZ_TEXT("both lines of a knob are at one pin; expected two");
    }
    if (input->kind == GLANZ_INPUT_KNOB && (input->steps == 1 || input->edges > 4 || input->edges == 3)) {
        return GLANZ_TEXT("a knob has at least 2 steps, of 1, 2 or 4 edges each");
    }
    if (input->lost_ms != 0 && (input->lost_ms < 100 || input->lost_ms > 86400000u ||
                                (input->kind != GLANZ_INPUT_SENSOR && input->kind != GLANZ_INPUT_VALUE))) {
        return GLANZ_TEXT("only a sensor or a value is lost, after 100 ms to 24 h");
    }
    /* how sound is listened to is validated by the part for it, where somebody listens */
    return input->kind > GLANZ_INPUT_SOUND ? GLANZ_TEXT("expected a button, a value, a sensor, a dial, a knob or sound") : NULL;
#else
    return input->kind > GLANZ_INPUT_VALUE ? GLANZ_TEXT("expected a button or a value") : NULL;
#endif
}

glanz_status glanz_rig_check(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault) {
    if (rig == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    struct glanz_fault found = GLANZ_FAULT_INIT;
    glanz_status status = GLANZ_OK;
    if (rig->output_count == 0 || rig->output_count > GLANZ_OUTPUTS_MOST || rig->supply_count == 0 ||
        rig->supply_count > GLANZ_SUPPLIES_MOST || rig->outputs == NULL || rig->supplies == NULL ||
        (rig->surface_count != 0 && rig->surfaces == NULL) || (rig->input_count != 0 && rig->inputs == NULL) ||
        rig->lowest_hz > 200 || rig->frames_per_s > 1000) {
        glanz_fault_add(&found,
                        GLANZ_TEXT("a rig needs 1 to 32 outputs, 1 to 16 supplies, at most 1000 frames a second and 200 Hz"));
        status = GLANZ_ERR_RIG;
    }
#if GLANZ_CALENDAR
    status = status == GLANZ_OK ? check_where(rig, &found) : status;
#endif
    for (uint8_t o = 0; o < rig->output_count && status == GLANZ_OK; o++) {
        status = check_output(rig, o, &found);
    }
    for (uint8_t s = 0; s < rig->surface_count && status == GLANZ_OK; s++) {
        status = check_surface(rig, s, &found);
    }
    if (status == GLANZ_OK) {
        status = check_limits(rig, &found);
    }
#if GLANZ_SUPPLIES_MOST == 1
    uint32_t full_ua = 0;
    for (uint8_t i = 0; i < rig->output_count && status == GLANZ_OK; i++) {
        full_ua = glanz_plus(full_ua, glanz_output_ua(&rig->outputs[i], 15));
    }
    if (status == GLANZ_OK && rig->supplies->limit_ma != 0 && full_ua / CURRENT_UA >= CURRENT_MOST) {
        status = refuse(&found, GLANZ_TEXT("supplies"), NULL);
        glanz_fault_add(&found, GLANZ_TEXT("its outputs could draw more than 8 A; expected less where a supply has a limit and "
                                           "GLANZ_SUPPLIES_MOST is 1"));
    }
#endif
    for (uint8_t i = 0; i < rig->input_count && status == GLANZ_OK; i++) {
        GLANZ_CONST char *wrong = input_wrong(&rig->inputs[i]);
        if (wrong != NULL) {
            status = refuse(&found, GLANZ_TEXT("inputs"), rig->inputs[i].name);
            glanz_fault_add(&found, wrong);
        }
    }
    if (status != GLANZ_OK && fault != NULL) {
        *fault = found;
    }
    return status;
}
