import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateBy,
  ValidateIf,
  ValidateNested,
  type ValidationArguments,
} from 'class-validator';

/**
 * Rules of what is sent: one a property, with one sentence that says what would be right. Fields that a person also sees in a form are
 * declared by `fields.ts`, which adds their words.
 */
export type Rule = PropertyDecorator;

/** Several rules of one property; where several are broken the last is told. */
export const Every =
  (...rules: Rule[]): Rule =>
  (target, key) => {
    for (const rule of rules) rule(target, key);
  };

/** A rule for what may be left out or null. */
export const Maybe = (rule: Rule): Rule => Every(IsOptional(), rule);

/** A rule that holds where a condition on the object does. */
export const If = <T>(condition: (object: T) => boolean, rule: Rule): Rule => Every(ValidateIf(condition), rule);

/** A text of so many characters. */
export const Text = (least: number, most: number, message?: string): Rule =>
  Every(MaxLength(most, { message }), MinLength(least, { message }), IsString({ message }));

/** A finite number within bounds. */
export const Amount = (min: number, max: number, message?: string): Rule =>
  Every(Max(max, { message }), Min(min, { message }), IsNumber({}, { message }));

/** A whole number within bounds. */
export const Whole = (min: number, max: number, message?: string): Rule =>
  Every(Max(max, { message }), Min(min, { message }), IsInt({ message }));

/** Number of a row of the store. */
export const Id = (message?: string): Rule => IsInt({ message });

/** One of a few words. */
export const OneOf = (words: readonly unknown[], message?: string): Rule => IsIn([...words], { message });

/** True or false. */
export const YesNo = (message?: string): Rule => IsBoolean({ message });

/** An object of a class of its own. */
export const Nested = (type: () => new () => object): Rule => Every(ValidateNested(), Type(type));

/** A list of objects of a class. */
export const ListOf = (type: () => new () => object, most: number, message: string, least = 0): Rule =>
  Every(
    ValidateNested({ each: true, message }),
    ArrayMinSize(least, { message }),
    ArrayMaxSize(most, { message }),
    IsArray({ message }),
    Type(type),
  );

/** A list of texts of up to so many characters each. */
export const Texts = (most: number, longest: number, message: string, least = 0): Rule =>
  Every(
    ArrayMinSize(least, { message }),
    ArrayMaxSize(most, { message }),
    MaxLength(longest, { each: true, message }),
    IsString({ each: true, message }),
    IsArray({ message }),
  );

/** A list of a few words. */
export const WordsOf = (words: readonly unknown[], most: number, message: string): Rule =>
  Every(ArrayMaxSize(most, { message }), IsIn([...words], { each: true, message }), IsArray({ message }));

/** A list of whole numbers within bounds. */
export const Wholes = (min: number, max: number, most: number, message: string): Rule =>
  Every(
    ArrayMaxSize(most, { message }),
    Max(max, { each: true, message }),
    Min(min, { each: true, message }),
    IsInt({ each: true, message }),
    IsArray({ message }),
  );

const passes = (validate: (value: unknown) => boolean, message: string | ((a: ValidationArguments) => string)): Rule =>
  ValidateBy({ name: 'passes', validator: { validate } }, { message });

const isRecord = (value: unknown): value is object => typeof value === 'object' && value !== null && !Array.isArray(value);

/** A record of up to 500 values, each of them one of a few words. */
export const ValuesIn = (words: readonly string[]): Rule =>
  passes(
    (value) => isRecord(value) && Object.values(value).length <= 500 && Object.values(value).every((v) => words.includes(v)),
    ({ property }) => `${property}: each value should be one of ${words.join(', ')}.`,
  );

/** A record of finite numbers. */
export const NumbersIn = (): Rule =>
  passes(
    (value) => isRecord(value) && Object.values(value).every(Number.isFinite),
    ({ property }) => `${property}: each value should be a number of seconds.`,
  );

/** A text that is read further; the reader says what is wrong with it, null where nothing is. */
export const Reads = (problemOf: (text: string) => string | null): Rule =>
  passes(
    (value) => typeof value !== 'string' || value.trim() === '' || problemOf(value) === null,
    ({ value }) => problemOf(String(value)) ?? '',
  );
