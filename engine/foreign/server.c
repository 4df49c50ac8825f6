/*
 * A Modbus server of another hand, for tests: `server tcp PORT` or `server rtu DEVICE BAUD UNIT`, and then how long it waits before
 * each answer, in ms. It has 200 of each kind; holding register n is 10 × n, input register n is 1000 + n.
 */
#include <errno.h>
#include <modbus.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define COUNT 200

static modbus_mapping_t *make_mapping(void) {
  modbus_mapping_t *mapping = modbus_mapping_new(COUNT, COUNT, COUNT, COUNT);
  for (int n = 0; mapping && n < COUNT; n++) {
    mapping->tab_registers[n] = 10 * n;
    mapping->tab_input_registers[n] = 1000 + n;
    mapping->tab_input_bits[n] = n % 3 == 0;
  }
  return mapping;
}

static void serve(modbus_t *context, modbus_mapping_t *mapping, int delay_ms, int is_line) {
  uint8_t query[MODBUS_TCP_MAX_ADU_LENGTH];
  for (;;) {
    int length = modbus_receive(context, query);
    if (length > 0) {
      if (delay_ms) usleep(delay_ms * 1000);
      modbus_reply(context, query, length, mapping);
    } else if (length < 0 && !is_line) {
      return;
    }
  }
}

int main(int count, char **words) {
  if (count < 4) return 2;
  modbus_mapping_t *mapping = make_mapping();
  if (!mapping) return 1;
  if (strcmp(words[1], "rtu") == 0) {
    modbus_t *context = modbus_new_rtu(words[2], atoi(words[3]), 'E', 8, 1);
    if (!context || modbus_set_slave(context, atoi(words[4])) || modbus_connect(context)) return 1;
    puts("ready");
    fflush(stdout);
    serve(context, mapping, atoi(words[5]), 1);
  }
  modbus_t *context = modbus_new_tcp("127.0.0.1", atoi(words[2]));
  int listener = context ? modbus_tcp_listen(context, 4) : -1;
  if (listener < 0) return 1;
  puts("ready");
  fflush(stdout);
  for (;;) {
    if (modbus_tcp_accept(context, &listener) < 0) return 1;
    serve(context, mapping, atoi(words[3]), 0);
    modbus_close(context);
  }
}
