/*
 * A Modbus client of another hand, for tests: `client tcp PORT UNIT` or `client rtu DEVICE BAUD UNIT`. Each line of its standard input
 * is one question, `FUNCTION OFFSET VALUES…` (a read takes a count; 22 takes two masks; 23 takes a count, where to write, and values),
 * and it answers each with one line: the values, `written`, or `error` and why.
 */
#include <errno.h>
#include <modbus.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define MOST 130

static void show(int got, const uint16_t *words, const uint8_t *bits, int is_write) {
  if (got < 0) printf("error %s", modbus_strerror(errno));
  else if (is_write) printf("written");
  else for (int at = 0; at < got; at++) printf(at ? " %d" : "%d", words ? words[at] : bits[at]);
  printf("\n");
  fflush(stdout);
}

static void ask(modbus_t *context, char *line) {
  int numbers[MOST], count = 0;
  for (char *part = strtok(line, " \n"); part && count < MOST; part = strtok(NULL, " \n")) numbers[count++] = atoi(part);
  int function = numbers[0], offset = numbers[1], *rest = numbers + 2, many = count - 2;
  uint16_t words[MOST] = {0};
  uint8_t bits[2000] = {0};
  for (int at = 0; at < many; at++) bits[at] = words[at] = rest[at];
  switch (function) {
    case 1: return show(modbus_read_bits(context, offset, rest[0], bits), NULL, bits, 0);
    case 2: return show(modbus_read_input_bits(context, offset, rest[0], bits), NULL, bits, 0);
    case 3: return show(modbus_read_registers(context, offset, rest[0], words), words, NULL, 0);
    case 4: return show(modbus_read_input_registers(context, offset, rest[0], words), words, NULL, 0);
    case 5: return show(modbus_write_bit(context, offset, rest[0]), NULL, NULL, 1);
    case 6: return show(modbus_write_register(context, offset, rest[0]), NULL, NULL, 1);
    case 15: return show(modbus_write_bits(context, offset, many, bits), NULL, NULL, 1);
    case 16: return show(modbus_write_registers(context, offset, many, words), NULL, NULL, 1);
    case 17: return show(modbus_report_slave_id(context, sizeof bits, bits), NULL, bits, 0);
    case 22: return show(modbus_mask_write_register(context, offset, rest[0], rest[1]), NULL, NULL, 1);
    case 23: {
      uint16_t got[MOST] = {0};
      return show(modbus_write_and_read_registers(context, rest[1], many - 2, words + 2, offset, rest[0], got), got, NULL, 0);
    }
  }
  puts("error unknown");
  fflush(stdout);
}

int main(int count, char **words) {
  if (count < 4) return 2;
  int is_line = strcmp(words[1], "rtu") == 0;
  modbus_t *context = is_line ? modbus_new_rtu(words[2], atoi(words[3]), 'E', 8, 1) : modbus_new_tcp("127.0.0.1", atoi(words[2]));
  if (!context || modbus_set_slave(context, atoi(words[is_line ? 4 : 3])) || modbus_connect(context)) return 1;
  modbus_set_response_timeout(context, 1, 0);
  puts("ready");
  fflush(stdout);
  char line[4096];
  while (fgets(line, sizeof line, stdin)) ask(context, line);
  modbus_close(context);
  return 0;
}
