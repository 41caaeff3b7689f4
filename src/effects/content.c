/* SPDX-License-Identifier: MIT */
/* What looks hold beside numbers: is it the same? */
#include <glanz/effects.h>

static int same_blocks(GLANZ_CONST struct glanz_pattern *a, GLANZ_CONST struct glanz_pattern *b) {
    int same = a->count == b->count;
    for (uint16_t i = 0; same && i < a->count; i++) {
        same = a->blocks[i].leds == b->blocks[i].leds && a->blocks[i].color == b->blocks[i].color;
    }
    return same;
}

#if GLANZ_FIELDS
static int same_bytes(GLANZ_CONST struct glanz_picture *a, GLANZ_CONST struct glanz_picture *b) {
    int same = a->count == b->count;
    for (uint32_t i = 0; same && a->bytes != b->bytes && i < a->count; i++) {
        same = a->bytes[i] == b->bytes[i];
    }
    return same;
}

static int same_marks(GLANZ_CONST struct glanz_marks *a, GLANZ_CONST struct glanz_marks *b) {
    int same = a->count == b->count;
    for (uint16_t i = 0; same && i < a->count; i++) {
        GLANZ_CONST struct glanz_mark *one = &a->list[i];
        GLANZ_CONST struct glanz_mark *other = &b->list[i];
        same = one->placed == other->placed && one->color == other->color && one->first == other->first &&
               one->leds == other->leds && one->left == other->left && one->top == other->top &&
               one->columns == other->columns && one->rows == other->rows;
    }
    return same;
}
#endif

int glanz_content_equal(GLANZ_CONST void *a, GLANZ_CONST void *b) {
    if (a == NULL || b == NULL || a == b) {
        return a == b;
    }
    uint8_t kind = ((GLANZ_CONST struct glanz_content *)a)->kind;
    if (kind != ((GLANZ_CONST struct glanz_content *)b)->kind) {
        return 0;
    }
    switch (kind) {
    case GLANZ_CONTENT_PATTERN:
        return same_blocks((GLANZ_CONST struct glanz_pattern *)a, (GLANZ_CONST struct glanz_pattern *)b);
#if GLANZ_FIELDS
    case GLANZ_CONTENT_WRITING: {
        GLANZ_CONST struct glanz_writing *one = (GLANZ_CONST struct glanz_writing *)a;
        GLANZ_CONST struct glanz_writing *other = (GLANZ_CONST struct glanz_writing *)b;
        return one->font == other->font && one->edge == other->edge && one->edge_color == other->edge_color &&
               one->sideways == other->sideways && glanz_name_equal(one->text, other->text);
    }
    case GLANZ_CONTENT_PICTURE: return same_bytes((GLANZ_CONST struct glanz_picture *)a, (GLANZ_CONST struct glanz_picture *)b);
    case GLANZ_CONTENT_MARKS: return same_marks((GLANZ_CONST struct glanz_marks *)a, (GLANZ_CONST struct glanz_marks *)b);
#endif
    default: return 0;
    }
}
