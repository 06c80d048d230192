// What is packed of the schema library to publish schemas.
export { toJSONSchema } from 'zod/mini'
