/* SPDX-License-Identifier: MIT */
/** @file
 *  ESP32 and its kin, as a component of ESP-IDF 5: one-wire lines by the remote-control peripheral (RMT), the store in a
 * partition of the flash, a microphone by I2S. Written against the public headers of that build system. It is compiled in the
 * tests against stand-ins of those headers, for RV32IMC as the ESP32-C3 is; it was not run on a chip.
 *
 *  Everything here is for the task that calls glanz_device_frame(), but for what is said to be for interrupts.
 */
#ifndef GLANZ_ESP32_H
#define GLANZ_ESP32_H

#include <glanz/device.h>

GLANZ_HEADER_BEGIN

#define GLANZ_ESP32_LINES 8 /**< one-wire outputs at once, where the chip has so many transmitters: 8 (ESP32), 4 (S3), 2 (C3)  \
                             */

/** Set the lines of a rig up; the pin of an output is the GPIO's number. @param rig lent as long as the board runs.
 *  @param fault says which output, and what the driver said; may be NULL. @return GLANZ_ERR_RIG, GLANZ_ERR_PORT. */
GLANZ_NODISCARD glanz_status glanz_esp32_begin(GLANZ_CONST struct glanz_rig *rig, struct glanz_fault *fault);

/** The port to start a device with. */
extern const struct glanz_port glanz_esp32_port;

/** The medium of a store in a data partition, such as a line "glanz, data, 0x40, , 64K" of the partition table names it.
 *  @param medium filled. @return GLANZ_ERR_ABSENT when there is no such partition, or it has fewer than two sectors. */
GLANZ_NODISCARD glanz_status glanz_esp32_medium(struct glanz_medium *medium, const char *partition);

/** Push the edges of a rig's buttons and encoders to a device, by interrupts. @return GLANZ_ERR_PORT. */
GLANZ_NODISCARD glanz_status glanz_esp32_attach(struct glanz_device *device);

/** Read what a microphone on I2S has by now into a source of sound, without waiting: 16 kHz, 32-bit words, the left channel.
 *  @param channel an i2s_chan_handle_t that receives. */
void glanz_esp32_listen(struct glanz_sound *sound, void *channel);

GLANZ_HEADER_END
#endif
