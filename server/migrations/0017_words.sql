CREATE TABLE "words" (
	"field" text NOT NULL,
	"word" text NOT NULL,
	"meaning" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"by" text,
	CONSTRAINT "words_field_word_pk" PRIMARY KEY("field","word")
);
