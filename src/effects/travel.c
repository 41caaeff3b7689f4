/* SPDX-License-Identifier: MIT */
/* How writing and pictures move over a field: again and again, to and fro, once, or as tiles without end. */
#include "travel.h"

#if GLANZ_FIELDS

GLANZ_CONST char *GLANZ_CONST glanz_ways[5] = {GLANZ_TEXT("standing"), GLANZ_TEXT("leftward"), GLANZ_TEXT("rightward"),
                                               GLANZ_TEXT("upward"), GLANZ_TEXT("downward")};

static uint32_t period_of(const struct travel *travel) { /* whole points */
    uint32_t capacity =
        travel->field > travel->extent ? (uint32_t)travel->field - travel->extent : (uint32_t)travel->extent - travel->field;
    switch (travel->again) {
    case AGAIN_BOUNCE: return capacity == 0 ? 1u : 2u * capacity;
    case AGAIN_TILED: return travel->extent == 0 ? 1u : travel->extent;
    default: break;
    }
    if (travel->closed && travel->again == AGAIN_AGAIN) {
        return travel->field > travel->extent ? travel->field : travel->extent;
    }
    return (uint32_t)travel->field + travel->extent;
}

glanz_place glanz_travel_pass(const struct travel *travel) {
    uint32_t period = period_of(travel);
    return (glanz_place)((period > 32767u ? 32767u : period) << 16);
}

glanz_place glanz_travel_place(const struct travel *travel, const struct glanz_frame *frame) {
    uint32_t turn = travel->backward ? ~frame->turn[0] : frame->turn[0];
    if (travel->again == AGAIN_BOUNCE) {
        turn = frame->turn[0];
        turn = (turn & 0x80000000u) != 0 ? ~turn << 1 : turn << 1;
        uint32_t capacity = period_of(travel) / 2u;
        int32_t gone = (int32_t)glanz_mul32_high(turn, capacity << 16);
        uint8_t fits = travel->field >= travel->extent;
        int32_t from = fits == travel->backward ? 0 : fits ? (int32_t)(capacity << 16) : -(int32_t)(capacity << 16);
        return from == 0 ? (fits ? gone : -gone) : (fits ? from - gone : from + gone);
    }
    int32_t gone = (int32_t)glanz_mul32_high(turn, (uint32_t)glanz_travel_pass(travel));
    if (travel->again == AGAIN_TILED || (travel->closed && travel->again == AGAIN_AGAIN)) {
        return -gone;
    }
    return (glanz_place)travel->field * GLANZ_STEP - gone;
}

glanz_place glanz_travel_rest(uint16_t extent, uint16_t field, int32_t share) {
    int32_t capacity = (int32_t)field - (int32_t)extent;
    uint32_t size = (uint32_t)(capacity < 0 ? -capacity : capacity);
    int32_t part = (int32_t)((size * (uint32_t)share + (capacity < 0 ? 32768u : 32767u)) >> 16);
    return (capacity < 0 ? -part : part) * GLANZ_STEP;
}

#endif
