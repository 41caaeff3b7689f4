/* SPDX-License-Identifier: MIT */
/** @file
 *  Frames over a serial line: what a program on the desk would send to LEDs goes to a board, which sends it to real ones. So
 * every command of the tool lights real LEDs, and an effect is seen on them before anything of it is in the firmware. The
 * board's program is small: it has the same rig, takes bytes as they come, and needs no engine. The format is in
 * docs/serial.md.
 *
 *  For the main loop; bytes may be gathered by an interrupt.
 */
#ifndef GLANZ_SERIAL_H
#define GLANZ_SERIAL_H

#include <glanz/device.h>

GLANZ_HEADER_BEGIN

#define GLANZ_SERIAL_HEAD 6                                         /**< bytes before those of an output */
#define GLANZ_SERIAL_TAIL 4                                         /**< and behind them */
#define GLANZ_SERIAL_AROUND (GLANZ_SERIAL_HEAD + GLANZ_SERIAL_TAIL) /**< both */

/** What is received; opaque but for the counts. */
struct glanz_serial {
    GLANZ_CONST struct glanz_rig *rig; /**< as it was given */
    const struct glanz_port *port;     /**< as it was given */
    uint8_t *taken;   /**< bytes of all outputs, as they come in */
    uint8_t *shown;   /**< and as they are sent: not touched while the port is busy */
    uint32_t size;    /**< bytes of each */
    uint32_t at;      /**< where the next byte of a packet goes */
    uint32_t crc;     /**< of the packet so far */
    uint32_t expects; /**< what the packet says its CRC is */
    uint16_t left;    /**< bytes of the packet, or of its head or tail, that are still to come */
    uint16_t count;   /**< bytes of the output */
    uint8_t head[4];  /**< output, flags, count */
    uint8_t state;    /**< what comes next */
    uint8_t whole;    /**< a frame waits for the port */
    uint32_t frames;  /**< handed to the port */
    uint32_t dropped; /**< that came while one was waiting, or that the port refused */
    uint32_t damaged; /**< packets whose CRC was wrong, or that do not fit the rig */
};

/** Bytes of memory for a rig: twice what a frame has. 0 for NULL. */
size_t glanz_serial_size(GLANZ_CONST struct glanz_rig *rig);

/** Begin. @param serial filled. @param memory `size` bytes, lent as long as it is used. @param rig,port lent as well.
 *  @return GLANZ_ERR_ARGUMENT, GLANZ_ERR_MEMORY. */
GLANZ_NODISCARD glanz_status glanz_serial_begin(struct glanz_serial *serial, GLANZ_CONST struct glanz_rig *rig,
                                                const struct glanz_port *port, uint8_t *memory, size_t size);

/** Take bytes as they came; a frame that is whole goes to the port as soon as it is not busy. No bytes: only that.
 *  What is damaged is left out, and the next packet is found. @return frames handed to the port. */
uint32_t glanz_serial_take(struct glanz_serial *serial, const uint8_t *bytes, size_t count);

/** A packet of an output. @param out count + GLANZ_SERIAL_AROUND bytes. @param output of the rig, from 0. @param last 1: the
 * frame is whole with it. @param bytes as the chips take them, at most 65,535. @return bytes of it; 0 for NULL or too many. */
size_t glanz_serial_pack(uint8_t *out, uint8_t output, uint8_t last, const uint8_t *bytes, size_t count);

GLANZ_HEADER_END
#endif
