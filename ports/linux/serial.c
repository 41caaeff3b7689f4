/* SPDX-License-Identifier: MIT */
/* The simulated board's frames to real LEDs, over a serial line. */
#include <errno.h>
#include <fcntl.h>
#include <stdlib.h>
#include <string.h>
#include <termios.h>
#include <unistd.h>

#include <glanz/serial.h>

#include "line.h"

#define BYTES_MOST 65535u

static int wrong_serial(struct glanz_fault *fault, const char *path, const char *why) {
    glanz_fault_begin(fault);
    glanz_fault_add(fault, "cannot open the serial line ");
    glanz_fault_name(fault, path);
    glanz_fault_add(fault, ": ");
    glanz_fault_add(fault, why);
    return 0;
}

int glanz_line_open_serial(int *serial, const struct glanz_board_setup *setup, struct glanz_fault *fault) {
    static const struct {
        unsigned baud;
        speed_t speed;
    } speeds[] = {{9600, B9600},     {19200, B19200},     {38400, B38400},     {57600, B57600},
                  {115200, B115200}, {230400, B230400},   {460800, B460800},   {500000, B500000},
                  {921600, B921600}, {1000000, B1000000}, {2000000, B2000000}, {3000000, B3000000}};
    char path[256];
    const char *given = setup->serial;
    const char *at = strrchr(given, '@');
    size_t length = at == NULL ? strlen(given) : (size_t)(at - given);
    unsigned long baud = at == NULL ? 115200 : strtoul(at + 1, NULL, 10);
    size_t i = 0;
    while (i < sizeof speeds / sizeof speeds[0] && speeds[i].baud != baud) {
        i++;
    }
    if (i == sizeof speeds / sizeof speeds[0] || length >= sizeof path) {
        return wrong_serial(fault, given,
                            "expected a device, and behind an @ a baud such as 115200, 460800, 921600, 1000000 or 2000000");
    }
    for (uint8_t o = 0; o < setup->hardware->output_count; o++) {
        if (glanz_output_bytes(&setup->hardware->outputs[o]) > BYTES_MOST) {
            return wrong_serial(fault, given, "an output has more than 65535 bytes a frame; expected it divided");
        }
    }
    memcpy(path, given, length);
    path[length] = '\0';
    *serial = open(path, O_RDWR | O_NOCTTY);
    struct termios line;
    if (*serial < 0 || tcgetattr(*serial, &line) != 0) {
        int reason = errno;
        return wrong_serial(fault, path, *serial >= 0 ? "it is none" : strerror(reason));
    }
    cfmakeraw(&line);
    line.c_cflag |= CLOCAL | CREAD;
    (void)cfsetspeed(&line, speeds[i].speed);
    (void)tcsetattr(*serial, TCSANOW, &line);
    return 1;
}

static int put_all(int serial, const uint8_t *bytes, size_t count) {
    while (count > 0) {
        ssize_t written = write(serial, bytes, count);
        if (written <= 0 && errno != EINTR) {
            return 0;
        }
        bytes += written > 0 ? written : 0;
        count -= written > 0 ? (size_t)written : 0;
    }
    return 1;
}

int glanz_line_put_serial(int serial, GLANZ_CONST struct glanz_rig *rig, const struct glanz_sending *list, uint8_t count) {
    uint8_t packet[BYTES_MOST + GLANZ_SERIAL_AROUND];
    for (uint8_t i = 0; i < count; i++) {
        uint8_t output = 0;
        while (output < rig->output_count && rig->outputs[output].pin != list[i].output->pin) {
            output++;
        }
        size_t size = glanz_serial_pack(packet, output, i + 1 == count, list[i].bytes, list[i].count);
        if (!put_all(serial, packet, size)) {
            return 0;
        }
    }
    return 1;
}

void glanz_line_close_serial(int serial) {
    (void)tcdrain(serial);
    close(serial);
}
