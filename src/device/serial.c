/* SPDX-License-Identifier: MIT */
/* Frames over a serial line: packets made, and found again in what comes in. */
#include <string.h>

#include <glanz/serial.h>

#define MARK_1 0x47u
#define MARK_2 0x4Cu
#define FLAG_LAST 1u

enum { AT_MARK_1, AT_MARK_2, AT_HEAD, AT_BYTES, AT_CRC };

static uint32_t offset_of(GLANZ_CONST struct glanz_rig *rig, uint8_t output) {
    uint32_t at = 0;
    for (uint8_t o = 0; o < output; o++) {
        at += glanz_output_bytes(&rig->outputs[o]);
    }
    return at;
}

size_t glanz_serial_size(GLANZ_CONST struct glanz_rig *rig) {
    return rig == NULL ? 0 : 2u * (size_t)offset_of(rig, rig->output_count);
}

glanz_status glanz_serial_begin(struct glanz_serial *serial, GLANZ_CONST struct glanz_rig *rig, const struct glanz_port *port,
                                uint8_t *memory, size_t size) {
    if (serial == NULL || rig == NULL || rig->output_count == 0 || port == NULL || port->start == NULL || port->busy == NULL ||
        memory == NULL) {
        return GLANZ_ERR_ARGUMENT;
    }
    if (size < glanz_serial_size(rig)) {
        return GLANZ_ERR_MEMORY;
    }
    memset(serial, 0, sizeof *serial);
    serial->rig = rig;
    serial->port = port;
    serial->size = (uint32_t)(glanz_serial_size(rig) / 2u);
    serial->taken = memory;
    serial->shown = memory + serial->size;
    memset(memory, 0, glanz_serial_size(rig));
    return GLANZ_OK;
}

/* The frame that waits, to the port, all outputs together. */
static uint32_t hand_over(struct glanz_serial *serial) {
    struct glanz_sending list[GLANZ_OUTPUTS_MOST];
    uint32_t at = 0;
    if (!serial->whole || serial->port->busy(serial->port->user)) {
        return 0;
    }
    serial->whole = 0;
    memcpy(serial->shown, serial->taken, (size_t)serial->size);
    for (uint8_t o = 0; o < serial->rig->output_count; o++) {
        list[o].output = &serial->rig->outputs[o];
        list[o].bytes = serial->shown + at;
        list[o].count = (size_t)glanz_output_bytes(&serial->rig->outputs[o]);
        at += (uint32_t)list[o].count;
    }
    if (serial->port->start(serial->port->user, list, serial->rig->output_count) != GLANZ_OK) {
        serial->dropped++;
        return 0;
    }
    serial->frames++;
    return 1;
}

/* The head is there: does the packet fit the rig? Bytes of one that does not are not taken for anything but marks. */
static void begin_packet(struct glanz_serial *serial) {
    uint8_t output = serial->head[0];
    serial->count = (uint16_t)(serial->head[2] | serial->head[3] << 8);
    if (output >= serial->rig->output_count || serial->count != glanz_output_bytes(&serial->rig->outputs[output])) {
        serial->damaged++;
        serial->state = AT_MARK_1;
        return;
    }
    if (serial->whole) { /* one waits: it is overtaken */
        serial->whole = 0;
        serial->dropped++;
    }
    serial->crc = glanz_crc32(0, serial->head, 4);
    serial->at = offset_of(serial->rig, output);
    serial->left = serial->count;
    serial->state = AT_BYTES;
}

static uint32_t end_packet(struct glanz_serial *serial) {
    serial->state = AT_MARK_1;
    if (serial->crc != serial->expects) {
        serial->damaged++;
        return 0;
    }
    serial->whole = (serial->head[1] & FLAG_LAST) != 0;
    return hand_over(serial);
}

static uint32_t take_one(struct glanz_serial *serial, uint8_t byte) {
    switch (serial->state) {
    case AT_MARK_1: serial->state = byte == MARK_1 ? AT_MARK_2 : AT_MARK_1; return 0;
    case AT_MARK_2:
        serial->state = byte == MARK_2 ? AT_HEAD : byte == MARK_1 ? AT_MARK_2 : AT_MARK_1;
        serial->left = 4;
        return 0;
    case AT_HEAD:
        serial->head[4u - serial->left] = byte;
        if (--serial->left == 0) {
            begin_packet(serial);
        }
        return 0;
    case AT_CRC:
        serial->expects |= (uint32_t)byte << (8u * (4u - serial->left));
        return --serial->left == 0 ? end_packet(serial) : 0;
    default: return 0;
    }
}

uint32_t glanz_serial_take(struct glanz_serial *serial, const uint8_t *bytes, size_t count) {
    if (serial == NULL || (bytes == NULL && count != 0)) {
        return 0;
    }
    uint32_t frames = hand_over(serial);
    while (count > 0) {
        if (serial->state != AT_BYTES) {
            frames += take_one(serial, *bytes++);
            count--;
            continue;
        }
        size_t piece = count < serial->left ? count : serial->left;
        memcpy(serial->taken + serial->at, bytes, piece);
        serial->crc = glanz_crc32(serial->crc, bytes, piece);
        serial->at += (uint32_t)piece;
        serial->left = (uint16_t)(serial->left - piece);
        bytes += piece;
        count -= piece;
        if (serial->left == 0) {
            serial->state = AT_CRC;
            serial->left = 4;
            serial->expects = 0;
        }
    }
    return frames;
}

size_t glanz_serial_pack(uint8_t *out, uint8_t output, uint8_t last, const uint8_t *bytes, size_t count) {
    if (out == NULL || bytes == NULL || count > 0xFFFFu) {
        return 0;
    }
    out[0] = MARK_1;
    out[1] = MARK_2;
    out[2] = output;
    out[3] = last ? FLAG_LAST : 0;
    out[4] = (uint8_t)count;
    out[5] = (uint8_t)(count >> 8);
    memcpy(out + GLANZ_SERIAL_HEAD, bytes, count);
    uint32_t crc = glanz_crc32(0, out + 2, count + 4u);
    for (uint8_t i = 0; i < GLANZ_SERIAL_TAIL; i++) {
        out[GLANZ_SERIAL_HEAD + count + i] = (uint8_t)(crc >> (8u * i));
    }
    return count + GLANZ_SERIAL_AROUND;
}
