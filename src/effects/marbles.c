/* SPDX-License-Identifier: MIT */
/* Marbles: they are thrown up, fall, spring back and knock against each other. Each is a place and a speed in its memory, moved
 * on in fixed ticks of the phase; a pass is a fall through the whole height, so that gravity is 2 heights a pass a pass. */
#include "upright.h"
#include "tints.h"

#if GLANZ_FIELDS

static GLANZ_CONST struct glanz_param params[] = {
    [GLANZ_MARBLES_BACKGROUND] = GLANZ_COLOR_ROW("background", "behind them", GLANZ_RGB(0, 0, 0)),
    [GLANZ_MARBLES_COUNT] = GLANZ_PARAM_ROW("count", "how many", GLANZ_PARAM_COUNT, GLANZ_UNIT_NONE, 1, 12, 4),
    [GLANZ_MARBLES_SIZE] = GLANZ_PITCH_ROW("size", "of each", GLANZ_FIXED(0.5), GLANZ_UNIT_LEDS, GLANZ_FIXED(2)),
    [GLANZ_MARBLES_SPRING] = GLANZ_SHARE_ROW("spring", "of their speed that a bounce leaves", GLANZ_PERCENT(86)),
    [GLANZ_MARBLES_SPEED] = GLANZ_RATE_ROW("falls through the whole height", GLANZ_UNIT_PASS_TIME, 1200),
};

#define BITS 7     /* 128 ticks a pass */
#define MOST 12    /* of them */
#define FADE 24u   /* ticks in which one comes in from dark */
#define RESTED 40u /* ticks at rest, then it is thrown again */
#define SLOW(high)                                                                                                             \
    ((high) / 512) /* a tick: slower than this for so long is at rest; at the top of a flight it is not so long */

struct marble {
    int32_t x, y;   /* its middle: from the left edge, up from the floor; 16.16 LEDs */
    int32_t vx, vy; /* a tick */
    uint16_t age;   /* ticks; 0: not thrown yet */
    uint8_t rested;
    uint8_t throws;
};

struct memory {
    uint32_t tick;
    struct marble marbles[MOST];
};

struct box { /* in which middles move */
    int32_t left, right, high;
    int32_t size;
};

#define HEAD (((uint32_t)sizeof(struct memory) + 7u) & ~7u)

static uint32_t memory(const struct glanz_frame *frame) {
    return upright_raster_memory(frame, HEAD);
}

static struct box box_of(const struct glanz_frame *frame, const struct glanz_raster *raster) {
    struct box box;
    int32_t least =
        (int32_t)(raster->columns < raster->rows && raster->columns > 1 ? raster->columns : raster->rows) * GLANZ_STEP / 2;
    box.size = frame->number[GLANZ_MARBLES_SIZE] < least ? frame->number[GLANZ_MARBLES_SIZE] : least;
    box.left = box.size / 2;
    box.right = (int32_t)raster->columns * GLANZ_STEP - box.size / 2;
    box.high = (int32_t)raster->rows * GLANZ_STEP - box.size;
    if (raster->columns == 1) {
        box.left = GLANZ_HALF;
        box.right = GLANZ_HALF;
    }
    return box;
}

/* A speed that a bounce leaves. */
static int32_t sprung(const struct glanz_frame *frame, int32_t speed) {
    uint32_t size = glanz_times((uint32_t)(speed < 0 ? -speed : speed), (uint32_t)frame->number[GLANZ_MARBLES_SPRING]);
    return speed < 0 ? (int32_t)size : -(int32_t)size;
}

static void throw_up(struct marble *marble, const struct glanz_frame *frame, const struct box *box, uint8_t index) {
    uint32_t draw = glanz_hash2(frame->seed + index, marble->throws);
    int32_t up = box->high / (1 << (BITS - 1)); /* reaches just the top: 2 heights a pass */
    marble->throws++;
    marble->rested = 0;
    if (marble->age == 0) {
        marble->x = box->left + (int32_t)glanz_mul32_high(draw << 8, (uint32_t)(box->right - box->left));
        marble->y = 0;
        marble->age = 1;
    }
    marble->vy = up - (int32_t)glanz_mul32_high(draw << 16, (uint32_t)up / 3u);
    marble->vx = ((int32_t)(draw >> 16 & 0xFFu) - 128) * (box->right - box->left) / (1 << 15);
}

static void move(struct marble *marble, const struct glanz_frame *frame, const struct box *box) {
    int32_t fall = box->high >> (2 * BITS - 1); /* gravity a tick a tick */
    fall = fall < 1 ? 1 : fall;
    marble->y += marble->vy - fall / 2;
    marble->vy -= fall;
    marble->x += marble->vx;
    if (marble->y < 0) {
        marble->y = sprung(frame, marble->y);
        marble->vy = sprung(frame, marble->vy);
        if (marble->vy > fall) { /* it has fallen further than the floor: as fast as it is at this height on its way up */
            marble->vy -= (int32_t)((int64_t)2 * fall * marble->y / marble->vy);
        }
        marble->vx = marble->vx - marble->vx / 16; /* it rubs */
        if (marble->vy < SLOW(box->high) / 4) {
            marble->y = 0;
            marble->vy = 0;
        }
    } else if (marble->y > box->high) {
        marble->y = box->high;
        marble->vy = marble->vy > 0 ? sprung(frame, marble->vy) : marble->vy;
    }
    int32_t slow = SLOW(box->high);
    int still = marble->vy < slow && marble->vy > -slow && marble->vx < slow && marble->vx > -slow;
    marble->rested = (uint8_t)(still ? marble->rested + 1u : 0);
    if (marble->x < box->left || marble->x > box->right) {
        marble->x = marble->x < box->left ? box->left : box->right;
        marble->vx = sprung(frame, marble->vx);
    }
}

/* Two of equal weight that touch and come nearer exchange their speed along the line between them, less what the spring takes.
 */
static void knock(struct marble *a, struct marble *b, const struct glanz_frame *frame, const struct box *box) {
    int32_t dx = b->x - a->x;
    int32_t dy = b->y - a->y;
    if (dx >= box->size || -dx >= box->size || dy >= box->size || -dy >= box->size) {
        return;
    }
    int32_t reach = box->size + box->size / 1024 + 1; /* beyond it, distances are surely not below a size */
    if (dx > reach || dx < -reach || dy > reach || dy < -reach) {
        return;
    }
    int32_t apart = (int32_t)glanz_distance(dx, dy);
    if (apart >= box->size) {
        return;
    }
    int32_t nx = apart < 256 ? 0 : (int32_t)((int64_t)dx * 32768 / apart);
    int32_t ny = apart < 256 ? 32768 : (int32_t)((int64_t)dy * 32768 / apart);
    int64_t nearer = ((int64_t)(a->vx - b->vx) * nx + (int64_t)(a->vy - b->vy) * ny) / 32768;
    if (nearer > 0) {
        int32_t push = ((int32_t)nearer - sprung(frame, (int32_t)nearer)) / 2; /* each */
        a->vx -= (int32_t)((int64_t)push * nx / 32768);
        a->vy -= (int32_t)((int64_t)push * ny / 32768);
        b->vx += (int32_t)((int64_t)push * nx / 32768);
        b->vy += (int32_t)((int64_t)push * ny / 32768);
    }
    int32_t out = (box->size - apart) / 2; /* and are no more one within the other */
    a->x -= (int32_t)((int64_t)out * nx / 32768);
    a->y -= (int32_t)((int64_t)out * ny / 32768);
    b->x += (int32_t)((int64_t)out * nx / 32768);
    b->y += (int32_t)((int64_t)out * ny / 32768);
}

static void tick(struct memory *memory, const struct glanz_frame *frame, const struct box *box) {
    uint8_t count = (uint8_t)frame->number[GLANZ_MARBLES_COUNT];
    for (uint8_t i = 0; i < count; i++) {
        struct marble *marble = &memory->marbles[i];
        if (marble->age == 0) { /* one after another */
            if (i == 0 || memory->marbles[i - 1].age > FADE) {
                throw_up(marble, frame, box, i);
            }
            continue;
        }
        marble->age = marble->age < 60000u ? (uint16_t)(marble->age + 1u) : marble->age;
        if (marble->rested > RESTED) {
            throw_up(marble, frame, box, i);
        }
        move(marble, frame, box);
    }
    for (uint8_t i = 0; i < count; i++) {
        for (uint8_t k = (uint8_t)(i + 1u); k < count; k++) {
            if (memory->marbles[i].age != 0 && memory->marbles[k].age != 0) {
                knock(&memory->marbles[i], &memory->marbles[k], frame, box);
            }
        }
    }
}

static uint8_t step(struct glanz_frame *frame) {
    struct memory *memory = (struct memory *)frame->memory;
    if (memory == NULL) {
        return 0;
    }
    struct glanz_raster raster = upright_raster(frame, HEAD);
    struct box box = box_of(frame, &raster);
    uint32_t part;
    for (uint8_t left = glanz_frame_ticks(&memory->tick, &part, frame, BITS); left > 0; left--) {
        tick(memory, frame, &box);
    }
    glanz_raster_fill(&raster, frame->color[0]);
    for (uint8_t i = 0; i < (uint8_t)frame->number[GLANZ_MARBLES_COUNT]; i++) {
        const struct marble *marble = &memory->marbles[i];
        if (marble->age == 0) {
            continue;
        }
        int32_t x = marble->x + (int32_t)((int64_t)marble->vx * (int32_t)part / 65536); /* and on its way to the next tick */
        int32_t y = marble->y + (int32_t)((int64_t)marble->vy * (int32_t)part / 65536);
        y = y < 0 ? 0 : y > box.high ? box.high : y;
        x = x < box.left ? box.left : x > box.right ? box.right : x;
        int32_t down = (int32_t)raster.rows * GLANZ_STEP - box.size / 2 - y;
        const glanz_place ends[4] = {x, down, x, down};
        uint32_t level = marble->age >= FADE ? 65536u : (uint32_t)marble->age * (65536u / FADE);
        uint32_t position = (2u * i + 1u) * (32767u / (uint32_t)frame->number[GLANZ_MARBLES_COUNT]);
        glanz_raster_line(&raster, ends, box.size, glanz_gradient_at(frame->gradient, (uint16_t)position), level);
    }
    return GLANZ_STEP_MOVES;
}

static void shade(struct glanz_light *light, uint16_t *cover, const struct glanz_frame *frame,
                  const struct glanz_places *places, uint8_t count) {
    (void)cover;
    upright_raster_shade(light, frame, places, count, HEAD);
}

GLANZ_CONST struct glanz_effect glanz_effect_marbles = {
    .version = GLANZ_EFFECT_VERSION,
    .name = GLANZ_TEXT("marbles"),
    .description =
        GLANZ_DESCRIPTION("marbles that are thrown up, bounce and knock against each other; a pass is a fall through "
                          "the whole height"),
    .params = params,
    .param_count = GLANZ_COUNT(params),
    .needs = GLANZ_NEEDS_GRADIENT,
    .gradient = &glanz_gradient_festive,
    .step = step,
    .shade_field = shade,
    .memory = memory,
    .least_rows = 1,
    .least_columns = 6,
};

#endif
